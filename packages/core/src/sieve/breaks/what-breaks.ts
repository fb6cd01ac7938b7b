import type { Box } from '../../raster/box.ts';
import type { Mask } from '../../raster/raster.ts';
import { halvedAreas, keptAreas, type KeptAreas } from './kept-areas.ts';
import { lostParts, type LostPart } from './lost-parts.ts';
import { linesOf } from './thinning.ts';

export const BREAK_KINDS = ['comes apart', 'vanishes', 'loses its end'] as const;
export type BreakKind = (typeof BREAK_KINDS)[number];

/** A thin part of the silhouette that a level does not show. */
export interface Break {
  kind: BreakKind;
  /** What is lost of level 0, in its texels. */
  area: number;
  /** The same as a share of what it keeps. */
  share: number;
  /** Where, in texels of level 0. */
  box: Box;
}

/** What of level 0 breaks on one level. */
export interface LevelBreaks {
  level: number;
  width: number;
  height: number;
  counts: Record<BreakKind, number>;
  /** Lost in all, as a share of what level 0 keeps. */
  share: number;
  /** The largest losses, largest first; {@link MOST_LISTED} at the most. */
  worst: Break[];
  /** What is lost, on a raster of `width` × `height` texels over the picture, largest losses first. */
  marks: { width: number; height: number; texels: Int32Array };
}

const MOST_LISTED = 40;
/** More marks would be a grey film. */
const MOST_MARKED = 100_000;
/** Levels of fewer texels on their longer side are a dot on the screen. */
const SMALLEST = 16;
/** Texels of the raster that a level is looked at on, to one of the level; and half of what is still thin, in these. */
const FINER = 4;
const ROUNDS = 4;

/**
 * What of level 0 breaks on the levels below it: its silhouette is thinned to lines, and where neither the texel of the
 * level under a line nor one close beside it is kept, that piece is lost. One between kept pieces makes its part come
 * apart, one at the end of a kept piece is a lost end, any other vanishes. The rim of a thick part has no line in it: an
 * edge that lies half a texel off breaks nothing.
 *
 * @param levels - Level 0 first. @param threshold - Byte, 0–256; see `thresholdByte`.
 * @param checkpoint - Called all along; cancels by throwing.
 */
export function whatBreaks(
  levels: readonly Mask[],
  threshold: number,
  checkpoint: () => void = () => undefined,
): LevelBreaks[] {
  const [first, ...others] = levels;
  let kept = keptAreas(first, threshold, checkpoint);
  const whole = kept.areas.reduce((sum, area) => sum + area, 0);
  let lines: Uint8Array | null = null;
  const found: LevelBreaks[] = [];
  for (const level of others) {
    if (Math.max(level.width, level.height) < SMALLEST) break;
    while (kept.width >= 2 * FINER * level.width && kept.height >= 2 * FINER * level.height) {
      kept = halvedAreas(kept, checkpoint);
      lines = null;
    }
    lines ??= linesOf(kept, ROUNDS, checkpoint);
    const lost = lostParts(kept, lines, level, threshold, checkpoint);
    checkpoint();
    found.push({ level: found.length + 1, ...figuresOf(lost, whole, kept, level, first) });
    checkpoint();
  }
  return found;
}

function figuresOf(
  lost: LostPart[],
  whole: number,
  kept: KeptAreas,
  level: Mask,
  first: Mask,
): Omit<LevelBreaks, 'level'> {
  const { width, height } = level;
  const parts = lost
    .map((part) => ({
      ...part,
      share: part.area / whole,
      ...placed(part, first.width / kept.width, first.height / kept.height),
    }))
    .filter((part) => isSeen(part, Math.max(first.width / width, first.height / height)))
    .sort((a, b) => b.area - a.area);
  const counts = Object.fromEntries(BREAK_KINDS.map((kind) => [kind, 0])) as Record<BreakKind, number>;
  for (const { kind } of parts) counts[kind]++;
  return {
    width,
    height,
    counts,
    share: parts.reduce((sum, part) => sum + part.share, 0),
    worst: parts.slice(0, MOST_LISTED).map(({ kind, area, share, box }) => ({ kind, area, share, box })),
    marks: { width: kept.width, height: kept.height, texels: marksOf(parts) },
  };
}

function placed({ ends, box }: LostPart, across: number, down: number): Pick<Break, 'kind' | 'box'> {
  return {
    kind: ends > 1 ? 'comes apart' : ends === 1 ? 'loses its end' : 'vanishes',
    box: { x0: box.x0 * across, y0: box.y0 * down, x1: box.x1 * across, y1: box.y1 * down },
  };
}

/** Less than a texel of the level cannot be shown on it, whatever makes it. @param side - Of such a texel. */
function isSeen({ kind, area, box }: Omit<Break, 'share'>, side: number): boolean {
  if (kind === 'comes apart') return true;
  return kind === 'vanishes' ? area >= side * side : Math.max(box.x1 - box.x0, box.y1 - box.y0) >= side;
}

function marksOf(parts: readonly { texels: number[] }[]): Int32Array {
  const texels = new Int32Array(
    Math.min(
      MOST_MARKED,
      parts.reduce((sum, part) => sum + part.texels.length, 0),
    ),
  );
  let count = 0;
  for (const part of parts) for (const at of part.texels) if (count < MOST_MARKED) texels[count++] = at;
  return texels;
}
