import type { Mask } from '../../raster/raster.ts';
import type { Reach } from './reach.ts';

export interface HeldLevel {
  width: number;
  height: number;
  /** Texels of this level on the wrong side, because no alpha that is allowed reaches the right one. */
  unreachable: number;
  /** Where some of them are, by their place row by row: where the clip is other than what was chosen. */
  places: Int32Array;
}

/** What was wanted of every level from 1 on, and what came of it. */
export interface Outcome {
  mips: readonly Mask[];
  threshold: number;
  wanted: readonly Reach[];
  /** For each level, texels that could not be chosen as wanted. */
  outOfReach: readonly number[];
}

/** Compares what the levels clip to with what was wanted. */
export function heldLevels({ mips, threshold, wanted, outOfReach }: Outcome): HeldLevel[] {
  return wanted.map(({ width, height, kept }, l) => {
    const places = missedOf(kept, mips[l].data, threshold);
    return { width, height, unreachable: outOfReach[l] + places.length, places };
  });
}

function missedOf(kept: Uint8Array, data: Uint8Array, threshold: number): Int32Array {
  const missed: number[] = [];
  for (let i = 0; i < data.length; i++) if (kept[i] === (data[i] - threshold) >>> 31) missed.push(i);
  return Int32Array.from(missed);
}
