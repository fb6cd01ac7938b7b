import { remarksOn } from './remarks.ts';
import type { DecodedPicture, FormatName } from '../codec/picture.ts';
import { luminance8 } from '../colour/luminance.ts';
import { oklabDistance, oklabFromBytes, type Oklab } from '../colour/oklab.ts';
import { toRgba8 } from '../raster/to-rgba8.ts';
import { asWords, type Picture, type Samples } from '../raster/raster.ts';

export type AlphaState = 'none' | 'present' | 'opaque' | 'transparent';

/** What a source really holds. */
export interface SourceFacts {
  format: FormatName;
  width: number;
  height: number;
  channels: 1 | 2 | 3 | 4;
  bitDepth: number;
  palette: boolean;
  /** none: the file has no alpha; opaque / transparent: it has one, all full / all zero. */
  alpha: AlphaState;
  /** Share of texels whose alpha is not full; not there in facts of before it was told. */
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
const PLAIN_BORDER_DISTANCE = 0.14; // OKLab; an unevenly lit scan swings by about 0.1

export function describeSource(decoded: DecodedPicture): SourceFacts {
  const { raster } = decoded;
  const picture = toRgba8(raster);
  const { grey, blackOrWhite } = greyness(picture);
  const alpha = alphaState(raster.channels, raster.data);
  return {
    format: decoded.format,
    width: raster.width,
    height: raster.height,
    channels: raster.channels,
    bitDepth: decoded.bitDepth,
    palette: decoded.palette,
    alpha,
    alphaBelow: shareBelowFull(picture),
    grey,
    blackOrWhite,
    border: borderColour(picture),
    notes: [...decoded.notes, ...remarksOn(picture, alpha === 'present')],
  };
}

export function hasPlainBorder(facts: SourceFacts): boolean {
  return facts.border.share >= PLAIN_BORDER_SHARE;
}

/** Grey or nearly so, almost only black and white: drawn to be a mask. */
export function looksLikeMask(facts: SourceFacts): boolean {
  return facts.grey && facts.alpha !== 'present' && facts.blackOrWhite > 0.85;
}

function alphaState(channels: number, data: Samples): AlphaState {
  if (channels === 1 || channels === 3) return 'none';
  const full = data instanceof Uint8Array ? 255 : 65535;
  const first = data[channels - 1];
  if (first !== full && first !== 0) return 'present';
  for (let i = channels - 1; i < data.length; i += channels) if (data[i] !== first) return 'present';
  return first === full ? 'opaque' : 'transparent';
}

/** From this share on, an alpha channel is one that was drawn: less is a slip, or a few soft texels at the border. */
const DRAWN_ALPHA_SHARE = 0.002;

export function hasDrawnAlpha({ alpha, alphaBelow }: SourceFacts): boolean {
  return alpha === 'present' && (alphaBelow ?? 1) >= DRAWN_ALPHA_SHARE;
}

/** Of a million texels at most. */
function shareBelowFull({ data }: Picture): number {
  const words = asWords(data);
  const step = Math.max(1, Math.floor(words.length / SAMPLED)) | 1;
  let below = 0;
  let looked = 0;
  for (let i = 0; i < words.length; i += step, looked++) if (words[i] >>> 24 !== 255) below++;
  return below / looked;
}

const SAMPLED = 1 << 20;

/** `grey` looks at every texel until one has colour; the share of extremes is taken from a million texels at most. */
function greyness({ data }: Picture): { grey: boolean; blackOrWhite: number } {
  const words = asWords(data);
  let grey = true;
  for (let i = 0; i < words.length && grey; i++) {
    const w = words[i];
    if (((w ^ (w >>> 8)) & 0xffff) !== 0) grey = false;
  }
  const step = Math.max(1, Math.floor(words.length / SAMPLED)) | 1;
  let extreme = 0;
  let looked = 0;
  for (let i = 0; i < words.length; i += step, looked++) {
    const y = luminance8(words[i] & 255, (words[i] >>> 8) & 255, (words[i] >>> 16) & 255);
    if (y < 32 || y > 223) extreme++;
  }
  return { grey, blackOrWhite: extreme / looked };
}

/** Samples the outermost 1 % of the picture; the middle colour is the one with the least summed distance to others. */
function borderColour({ width, height, data }: Picture): SourceFacts['border'] {
  const inset = Math.floor(Math.min(width, height) / 200);
  const labs: Oklab[] = [];
  const rgbs: [number, number, number][] = [];
  const take = (x: number, y: number) => {
    const i = (y * width + x) * 4;
    rgbs.push([data[i], data[i + 1], data[i + 2]]);
    labs.push(oklabFromBytes(data[i], data[i + 1], data[i + 2]));
  };
  const stops = 96;
  for (let k = 0; k < stops; k++) {
    const x = Math.floor(((k + 0.5) / stops) * width);
    const y = Math.floor(((k + 0.5) / stops) * height);
    take(x, inset);
    take(x, height - 1 - inset);
    take(inset, y);
    take(width - 1 - inset, y);
  }
  let best = 0;
  let least = Infinity;
  labs.forEach((lab, i) => {
    const sum = labs.reduce((total, other) => total + Math.min(0.3, oklabDistance(lab, other)), 0);
    if (sum < least) {
      least = sum;
      best = i;
    }
  });
  const near = labs.map((lab) => oklabDistance(lab, labs[best])).filter((d) => d <= PLAIN_BORDER_DISTANCE);
  near.sort((a, b) => a - b);
  return { colour: rgbs[best], share: near.length / labs.length, spread: near[Math.floor(0.98 * (near.length - 1))] };
}
