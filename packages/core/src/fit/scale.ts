import { byteOfLinear16Table, LINEAR16_OF_BYTE } from '../colour/srgb.ts';
import type { Raster, Samples } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';
import type { MipFilter } from '../sieve/mip-filters.ts';
import { kernelOf, PHASES } from './kernel.ts';

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

/** @param empty - Whether beyond the picture is nothing; else its border goes on. */
function axisOf({ length, scale, offset }: Along, from: number, filter: MipFilter, empty: boolean): Axis {
  const { taps, weights, first } = kernelOf(filter, scale);
  const starts = new Int32Array(length);
  const out = new Float32Array(length * taps);
  for (let i = 0; i < length; i++) {
    const at = scale * (i + 0.5) + offset - 0.5;
    const whole = Math.floor(at);
    const phase = Math.round((at - whole) * PHASES) * taps;
    // the window stays within the picture; what lies beyond counts to its border, or not at all
    const start = Math.max(0, Math.min(Math.max(0, from - taps), whole + first));
    starts[i] = start;
    for (let k = 0; k < taps; k++) {
      const place = whole + first + k;
      if (empty && (place < 0 || place >= from)) continue;
      const to = Math.min(from - 1, Math.max(0, place)) - start;
      out[i * taps + to] += weights[phase + k];
    }
  }
  return { taps: Math.min(taps, from), first: starts, weights: tight(out, length, taps, Math.min(taps, from)) };
}

function tight(weights: Float32Array, length: number, taps: number, kept: number): Float32Array {
  if (kept === taps) return weights;
  const out = new Float32Array(length * kept);
  for (let i = 0; i < length; i++) out.set(weights.subarray(i * taps, i * taps + kept), i * kept);
  return out;
}

/**
 * Scales and shifts a raster along both axes, one after the other, in floats. Four channels are colour: light is averaged
 * linearly, alpha as it is.
 *
 * @param out - Receives the samples.
 */
export function scaleBoth(
  raster: Raster<Samples>,
  [across, down]: readonly [Along, Along],
  filter: MipFilter,
  empty: boolean,
  env: Pick<Work, 'bands'>,
  out: Samples,
): void {
  const { width, height, channels, data } = raster;
  const x = axisOf(across, width, filter, empty);
  const y = axisOf(down, height, filter, empty);
  const line = across.length * channels;
  const middle = new Float32Array(line * height);
  const row = new Float32Array(width * channels);
  env.bands(height, (y0, y1) => {
    for (let v = y0; v < y1; v++) {
      read(data, v * width * channels, channels, row);
      if (channels === 1) gather1(row, x, middle, v * line);
      else if (channels === 4) gather4(row, x, middle, v * line);
      else gatherAny(row, x, channels, middle, v * line);
    }
  });
  const sums = new Float32Array(line);
  env.bands(down.length, (y0, y1) => {
    for (let v = y0; v < y1; v++) {
      sums.fill(0);
      for (let k = 0; k < y.taps; k++) {
        const weight = y.weights[v * y.taps + k];
        if (weight !== 0) addRow(middle, (y.first[v] + k) * line, weight, sums);
      }
      write(sums, channels, out, v * line);
    }
  });
}

function read(data: Samples, from: number, channels: number, row: Float32Array): void {
  const count = row.length;
  if (channels !== 4) {
    for (let i = 0; i < count; i++) row[i] = data[from + i];
    return;
  }
  const linear = LINEAR16_OF_BYTE;
  for (let i = 0; i < count; i += 4) {
    row[i] = linear[data[from + i]];
    row[i + 1] = linear[data[from + i + 1]];
    row[i + 2] = linear[data[from + i + 2]];
    row[i + 3] = data[from + i + 3];
  }
}

function gather1(row: Float32Array, { taps, first, weights }: Axis, out: Float32Array, at: number): void {
  for (let i = 0; i < first.length; i++) {
    let sum = 0;
    for (let k = 0, s = first[i], w = i * taps; k < taps; k++) sum += weights[w + k] * row[s + k];
    out[at + i] = sum;
  }
}

function gather4(row: Float32Array, { taps, first, weights }: Axis, out: Float32Array, at: number): void {
  for (let i = 0, o = at; i < first.length; i++, o += 4) {
    let r = 0;
    let g = 0;
    let b = 0;
    let a = 0;
    for (let k = 0, s = 4 * first[i], w = i * taps; k < taps; k++, s += 4) {
      const weight = weights[w + k];
      r += weight * row[s];
      g += weight * row[s + 1];
      b += weight * row[s + 2];
      a += weight * row[s + 3];
    }
    out[o] = r;
    out[o + 1] = g;
    out[o + 2] = b;
    out[o + 3] = a;
  }
}

function gatherAny(
  row: Float32Array,
  { taps, first, weights }: Axis,
  channels: number,
  out: Float32Array,
  at: number,
): void {
  for (let i = 0, o = at; i < first.length; i++) {
    for (let c = 0; c < channels; c++, o++) {
      let sum = 0;
      for (let k = 0; k < taps; k++) sum += weights[i * taps + k] * row[channels * (first[i] + k) + c];
      out[o] = sum;
    }
  }
}

function addRow(from: Float32Array, at: number, weight: number, sums: Float32Array): void {
  const count = sums.length;
  for (let i = 0; i < count; i++) sums[i] += weight * from[at + i];
}

function write(sums: Float32Array, channels: number, out: Samples, at: number): void {
  const full = out instanceof Uint8Array ? 255 : 65535;
  if (channels !== 4) {
    for (let i = 0; i < sums.length; i++) out[at + i] = sums[i] <= 0 ? 0 : sums[i] >= full ? full : sums[i] + 0.5;
    return;
  }
  const encode = byteOfLinear16Table();
  const byte = (v: number) => encode[v <= 0 ? 0 : v >= 65535 ? 65535 : (v + 0.5) | 0];
  for (let i = 0, o = at; i < sums.length; i += 4, o += 4) {
    out[o] = byte(sums[i]);
    out[o + 1] = byte(sums[i + 1]);
    out[o + 2] = byte(sums[i + 2]);
    out[o + 3] = sums[i + 3] <= 0 ? 0 : sums[i + 3] >= 255 ? 255 : sums[i + 3] + 0.5;
  }
}
