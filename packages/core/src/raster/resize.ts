import { allocateHeap, type Allocate, type Raster } from './raster.ts';

/**
 * Scales an 8-bit raster by a tent filter whose width follows the scale: linear interpolation when it grows, a
 * weighted average over all covered texels when it shrinks. Channels are filtered apart, alpha unweighted, in encoded
 * values. Meant for masks and for small pictures on screen.
 *
 * Cost: O(out texels · filter width), one float row at a time.
 */
export function resize<R extends Raster>(
  raster: R,
  width: number,
  height: number,
  allocate: Allocate = allocateHeap,
): R {
  const { channels } = raster;
  const across = taps(raster.width, width);
  const down = taps(raster.height, height);
  const out = allocate(width * height * channels);
  const column = new Float64Array(raster.width * channels);
  for (let y = 0; y < height; y++) {
    gatherRows(raster, down, y, column);
    const base = y * width * channels;
    for (let x = 0; x < width; x++) {
      for (let c = 0; c < channels; c++) {
        let sum = 0;
        for (let k = across.start[x], w = across.offset[x]; w < across.offset[x + 1]; k++, w++) {
          sum += column[k * channels + c] * across.weight[w];
        }
        out[base + x * channels + c] = sum + 0.5;
      }
    }
  }
  return { ...raster, width, height, data: out };
}

/** Size that fits `side` on the longer side, never larger than the raster itself. */
export function fitSize(width: number, height: number, side: number): { width: number; height: number } {
  const scale = Math.min(1, side / Math.max(width, height));
  return { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) };
}

interface Taps {
  /** First input index of each output. */
  start: Int32Array;
  /** Where its weights begin; one more at the end. */
  offset: Int32Array;
  weight: Float64Array;
}

function taps(from: number, to: number): Taps {
  const scale = from / to;
  const radius = Math.max(1, scale);
  const start = new Int32Array(to);
  const offset = new Int32Array(to + 1);
  const weight: number[] = [];
  for (let i = 0; i < to; i++) {
    const centre = (i + 0.5) * scale - 0.5;
    const first = Math.max(0, Math.ceil(centre - radius));
    const last = Math.min(from - 1, Math.floor(centre + radius));
    const mine: number[] = [];
    let sum = 0;
    for (let k = first; k <= last; k++) {
      const w = Math.max(0, 1 - Math.abs(k - centre) / radius);
      mine.push(w);
      sum += w;
    }
    start[i] = first;
    for (const w of mine) weight.push(w / sum);
    offset[i + 1] = weight.length;
  }
  return { start, offset, weight: Float64Array.from(weight) };
}

function gatherRows(raster: Raster, down: Taps, y: number, column: Float64Array): void {
  const stride = column.length;
  column.fill(0);
  for (let k = down.start[y], w = down.offset[y]; w < down.offset[y + 1]; k++, w++) {
    const base = k * stride;
    const weight = down.weight[w];
    if (weight === 0) continue;
    for (let i = 0; i < stride; i++) column[i] += raster.data[base + i] * weight;
  }
}
