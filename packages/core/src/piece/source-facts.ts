import type { FormatName } from '../codec/picture.ts';

export type AlphaState = 'none' | 'present' | 'opaque' | 'transparent';

/** `recipe`: it is grown, no file. */
export type SourceFormat = FormatName | 'recipe';

/** What a source really holds. */
export interface SourceFacts {
  format: SourceFormat;
  width: number;
  height: number;
  channels: 1 | 2 | 3 | 4;
  bitDepth: number;
  palette: boolean;
  /** none: the file has no alpha; opaque / transparent: it has one, all full / all zero. */
  alpha: AlphaState;
  /** Share of texels whose alpha is not full; absent in facts written before it was computed. */
  alphaBelow?: number | undefined;
  /** Red, green and blue are equal everywhere. */
  grey: boolean;
  /** Share of texels darker than 1/8 or lighter than 7/8: near 1 for a mask picture. */
  blackOrWhite: number;
  /**
   * The border's middle colour, the share of the border that looks like it (a plain backdrop has a high one), and how
   * far that share lies from it: the 98th percentile of its OKLab distances.
   */
  border: { colour: [number, number, number]; share: number; spread: number };
  notes: string[];
}

/** From this share on, the border counts as a plain backdrop. */
export const PLAIN_BORDER_SHARE = 0.75;

export function hasPlainBorder(facts: SourceFacts): boolean {
  return facts.border.share >= PLAIN_BORDER_SHARE;
}

/** Grey or nearly so, almost only black and white: drawn to be a mask. */
export function looksLikeMask(facts: SourceFacts): boolean {
  return facts.grey && facts.alpha !== 'present' && facts.blackOrWhite > 0.85;
}

/** From this share on, an alpha channel is one that was drawn: less is a slip, or a few soft texels at the border. */
const DRAWN_ALPHA_SHARE = 0.002;

export function hasDrawnAlpha({ alpha, alphaBelow }: SourceFacts): boolean {
  return alpha === 'present' && (alphaBelow ?? 1) >= DRAWN_ALPHA_SHARE;
}
