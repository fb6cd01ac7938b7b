import type { Raster, Samples } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';
import type { MipFilter } from '../sieve/mip-filters.ts';
import { lanesFor, lanesOfTexel } from '../simd/lanes.ts';
import { floatsIn, kernels, layOut, wholesIn } from '../simd/simd.ts';
import { kernelOf, PHASES } from './kernel.ts';

/** Rows between two looks whether the result is still wanted: each may read hundreds. */
const LOOK_ROWS = 16;

/** One axis: the place of texel i is scale · (i + ½) + offset, from the corner of the picture before. */
export interface Along {
  length: number;
  scale: number;
  offset: number;
}

interface Axis {
  taps: number;
  /** First tap of each texel, and its weights; taps beyond the picture have none where nothing is there. */
  first: Int32Array;
  weights: Float32Array;
}

/** How a picture is read. */
export interface Reading {
  /** Whether beyond it is nothing; else its border goes on. */
  empty: boolean;
  /** Whether a box is an area; else it counts texels in or out. */
  exact: boolean;
}

/** @param by - The number of taps is a multiple of it; those added weigh nothing and may lie behind the picture's end. */
function axisOf(along: Along, from: number, filter: MipFilter, { empty, exact }: Reading, by: number): Axis {
  if (exact && filter === 'box') return areasOf(along, from, by);
  const { length, scale, offset } = along;
  const { taps, weights, first } = kernelOf(filter, Math.abs(scale), exact);
  const kept = Math.min(taps, from);
  const padded = Math.ceil(kept / by) * by;
  const starts = new Int32Array(length);
  const out = new Float32Array(length * padded);
  for (let i = 0; i < length; i++) {
    const at = scale * (i + 0.5) + offset - 0.5;
    const whole = Math.floor(at);
    const phase = Math.round((at - whole) * PHASES) * taps;
    // the window stays within the picture; what lies beyond counts to its border, or not at all
    const start = Math.max(0, Math.min(from - kept, whole + first));
    starts[i] = start;
    for (let k = 0; k < taps; k++) {
      const place = whole + first + k;
      if (empty && (place < 0 || place >= from)) continue;
      const to = Math.min(kept - 1, Math.max(0, Math.min(from - 1, Math.max(0, place)) - start));
      out[i * padded + to] += weights[phase + k];
    }
  }
  return { taps: padded, first: starts, weights: out };
}

/** Each texel is the mean of what it covers of the picture; its border goes on. */
function areasOf({ length, scale, offset }: Along, from: number, by: number): Axis {
  const step = Math.abs(scale);
  const kept = Math.min(Math.ceil(step) + 1, from);
  const padded = Math.ceil(kept / by) * by;
  const first = new Int32Array(length);
  const weights = new Float32Array(length * padded);
  for (let i = 0; i < length; i++) {
    const left = Math.min(scale * i, scale * (i + 1)) + offset;
    const start = Math.floor(left + 1e-9);
    first[i] = Math.max(0, Math.min(from - kept, start));
    for (let k = start; k < left + step - 1e-9; k++) {
      const covered = Math.min(k + 1, left + step) - Math.max(k, left);
      const place = Math.min(from - 1, Math.max(0, k)) - first[i];
      weights[i * padded + Math.min(kept - 1, Math.max(0, place))] += covered / step;
    }
  }
  return { taps: padded, first, weights };
}

/**
 * Scales and shifts a raster along both axes, one after the other, in floats. Four channels are colour: light is averaged
 * linearly, alpha as it is.
 *
 * @param out - Receives the samples; as deep as those of the raster.
 */
export function scaleBoth(
  { width, height, channels, data }: Raster<Samples>,
  [across, down]: readonly [Along, Along],
  filter: MipFilter,
  reading: Reading,
  env: Pick<Work, 'bands' | 'checkpoint'>,
  out: Samples,
): void {
  const kernel = kernels();
  const lanes = lanesOfTexel(channels);
  const x = axisOf(across, width, filter, reading, lanes === 1 ? 4 : 1);
  const y = axisOf(down, height, filter, reading, 1);
  // a row is read in sixteens of floats, and by fours a little past its end
  const stride = Math.ceil(((width + 3) * lanes) / 16) * 16;
  const slots = layOut({
    staging: Math.max(width, across.length) * channels * data.BYTES_PER_ELEMENT,
    ring: 4 * stride * y.taps,
    sums: 4 * stride,
    result: 4 * lanes * across.length,
    rows: 4 * y.taps,
    downWeights: 4 * y.weights.length,
    acrossWeights: 4 * x.weights.length,
    acrossFirst: 4 * x.first.length,
  });
  floatsIn(slots.downWeights).set(y.weights);
  floatsIn(slots.acrossWeights).set(x.weights);
  wholesIn(slots.acrossFirst).set(x.first);
  const rows = wholesIn(slots.rows);
  const samples = lanesFor(data, channels, slots.staging);
  const sumAcross = lanes === 1 ? kernel.sumAcross1 : kernel.sumAcross4;
  // each row of the picture is read once, into the place that its number leaves over
  const held = new Int32Array(y.taps).fill(-1);
  env.bands(down.length, (y0, y1) => {
    for (let v = y0; v < y1; v++) {
      if (v % LOOK_ROWS === 0) env.checkpoint(v / down.length);
      for (let k = 0; k < y.taps; k++) {
        const row = y.first[v] + k;
        const place = row % y.taps;
        rows[k] = slots.ring.at + 4 * stride * place;
        if (held[place] === row) continue;
        samples.read(row * width * channels, width, rows[k]);
        held[place] = row;
      }
      kernel.sumRows(slots.rows.at, slots.downWeights.at + 4 * v * y.taps, y.taps, slots.sums.at, stride);
      sumAcross(slots.sums.at, slots.acrossFirst.at, slots.acrossWeights.at, x.taps, slots.result.at, across.length);
      samples.write(slots.result.at, across.length, out, v * across.length * channels);
    }
  });
}
