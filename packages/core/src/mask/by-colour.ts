import { LAB_FROM_LMS_ROOTS } from '../colour/oklab.ts';
import { oklabTables } from '../colour/oklab-table.ts';
import type { Rgb } from '../colour/srgb.ts';
import { asWords, makeMask, type Mask, type Picture } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';
import { marginLattice, measureByLattice } from './colour-lattice.ts';

export const COLOUR_METRICS = ['OKLab', 'CIEDE2000'] as const;
export type ColourMetric = (typeof COLOUR_METRICS)[number];

/** Colours to drop and colours to keep, and how near counts as one of them. */
export interface Swatches {
  readonly drop: readonly Rgb[];
  readonly keep: readonly Rgb[];
  /** OKLab, 0–1, or CIEDE2000 over 100, which is of like size. */
  readonly metric: ColourMetric;
  /** Distance up to which a colour counts as one of the swatches, 0–1. */
  readonly tolerance: number;
  /** Width of the ramp around the tolerance, in the same unit; 0 is a hard edge. */
  readonly softness: number;
}

/**
 * The mask by perceptual distance to swatches. With d the distance to the nearest swatch of a kind:
 *
 * - drop swatches alone: kept where d(drop) > tolerance;
 * - keep swatches alone: kept where d(keep) < tolerance;
 * - both: as with drop alone, and a texel nearer to a keep swatch than to any drop swatch stays as well.
 *
 * The margin over the edge, divided by softness and centred on one half, is the alpha. Without swatches all is kept.
 */
export function maskByColour(colour: Picture, params: Swatches, env: Pick<Work, 'allocate' | 'bands'>): Mask {
  const { width, height } = colour;
  const out = env.allocate(width * height);
  const words = asWords(colour.data);
  if (params.metric === 'CIEDE2000') {
    const margins = marginLattice(params);
    const gain = gainOf(params.softness);
    env.bands(height, (y0, y1) => measureByLattice(words, out, margins, gain, y0 * width, y1 * width));
  } else {
    const lookup = makeLookup(params);
    env.bands(height, (y0, y1) => measure(words, out, lookup, y0 * width, y1 * width));
  }
  return makeMask(width, height, out);
}

function gainOf(softness: number): number {
  return 255 / Math.max(softness, 1e-6); // a hard edge is a steep ramp
}

interface Lookup {
  lms: Int32Array;
  root: Float32Array;
  /** Cube roots of LMS of each swatch, three numbers each. */
  drop: Float64Array;
  keep: Float64Array;
  tolerance: number;
  /** 255 / softness, or large for a hard edge. */
  gain: number;
}

function makeLookup({ drop, keep, tolerance, softness }: Swatches): Lookup {
  const { lms, root } = oklabTables();
  const roots = (swatches: readonly Rgb[]) =>
    Float64Array.from(
      swatches.flatMap(([r, g, b]) =>
        [0, 3, 6].map((j) => root[lms[j * 256 + r] + lms[(j + 1) * 256 + g] + lms[(j + 2) * 256 + b]]),
      ),
    );
  return { lms, root, drop: roots(drop), keep: roots(keep), tolerance, gain: gainOf(softness) };
}

/** Lab differences are linear in differences of roots, so the distance is a quadratic form in the three. */
const FORM = (() => {
  const q = (i: number, j: number) => {
    let sum = 0;
    for (let k = 0; k < 3; k++) sum += LAB_FROM_LMS_ROOTS[k * 3 + i] * LAB_FROM_LMS_ROOTS[k * 3 + j];
    return sum;
  };
  return { ll: q(0, 0), mm: q(1, 1), ss: q(2, 2), lm: 2 * q(0, 1), ls: 2 * q(0, 2), ms: 2 * q(1, 2) };
})();

const FAR = 1e9;

function measure(words: Uint32Array, out: Uint8Array, lookup: Lookup, from: number, to: number): void {
  const { lms, root, drop, keep, tolerance, gain } = lookup;
  const dropOnly = keep.length === 0;
  const keepOnly = drop.length === 0;
  if (dropOnly && keepOnly) {
    out.fill(255, from, to);
    return;
  }
  let last = -1; // neighbours repeat on scans and painted pictures
  let value = 0;
  for (let i = from; i < to; i++) {
    const rgb = words[i] & 0xffffff;
    if (rgb !== last) {
      last = rgb;
      const r = rgb & 255;
      const g = 256 + ((rgb >>> 8) & 255);
      const b = 512 + (rgb >>> 16);
      const l = root[lms[r] + lms[g] + lms[b]];
      const m = root[lms[r + 768] + lms[g + 768] + lms[b + 768]];
      const s = root[lms[r + 1536] + lms[g + 1536] + lms[b + 1536]];
      const toDrop = keepOnly ? FAR : nearest(drop, l, m, s);
      const toKeep = dropOnly ? FAR : nearest(keep, l, m, s);
      const margin = keepOnly ? tolerance - toKeep : toDrop - (toKeep < tolerance ? toKeep : tolerance);
      const v = (128 + margin * gain) | 0; // 128: the edge itself counts as kept
      value = v < 0 ? 0 : v > 255 ? 255 : v;
    }
    out[i] = value;
  }
}

function nearest(swatches: Float64Array, l: number, m: number, s: number): number {
  let best = FAR;
  for (let k = 0; k < swatches.length; k += 3) {
    const x = l - swatches[k];
    const y = m - swatches[k + 1];
    const z = s - swatches[k + 2];
    const d = x * (FORM.ll * x + FORM.lm * y + FORM.ls * z) + y * (FORM.mm * y + FORM.ms * z) + FORM.ss * z * z;
    if (d < best) best = d;
  }
  return best > 0 ? Math.sqrt(best) : 0;
}
