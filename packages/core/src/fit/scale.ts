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

/** @param by - The number of taps is a multiple of it; those added weigh nothing and may lie behind the picture's end. */
function axisOf({ length, scale, offset }: Along, from: number, filter: MipFilter, empty: boolean, by: number): Axis {
  const { taps, weights, first } = kernelOf(filter, Math.abs(scale));
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

/**
 * Scales and shifts a raster along both axes, one after the other, in floats. Four channels are colour: light is averaged
 * linearly, alpha as it is.
 *
 * @param empty - Whether beyond the picture is nothing; else its border goes on.
 * @param out - Receives the samples; as deep as those of the raster.
 */
export function scaleBoth(
  { width, height, channels, data }: Raster<Samples>,
  [across, down]: readonly [Along, Along],
  filter: MipFilter,
  empty: boolean,
  env: Pick<Work, 'bands' | 'checkpoint'>,
  out: Samples,
): void {
  const kernel = kernels();
  const lanes = lanesOfTexel(channels);
  const x = axisOf(across, width, filter, empty, lanes === 1 ? 4 : 1);
  const y = axisOf(down, height, filter, empty, 1);
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
