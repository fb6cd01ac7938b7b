import type { Raster, Samples } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';
import { writeNormal } from '../relief/normals.ts';
import type { MipFilter } from '../sieve/mip-filters.ts';
import { lanesFor, lanesOfTexel } from '../simd/lanes.ts';
import { floatsIn, kernels, layOut } from '../simd/simd.ts';
import { kernelOf, PHASES } from './kernel.ts';
import type { Reading } from './scale.ts';
import type { Placing } from './placing.ts';

/** Side of the parts of the result that are read one by one: what they read of the picture stays near the processor. */
const PART = 128;

interface Turning extends Reading {
  /** Whether texels are directions, which turn with the picture. */
  directions: boolean;
}

/**
 * Reads a raster at places that lie anywhere in it, a texel of it about one of the result. Four channels are colour and are
 * averaged as light.
 *
 * @param out - Receives the samples; as deep as those of the raster.
 */
export function turned(
  raster: Raster<Samples>,
  placing: Placing,
  filter: MipFilter,
  { empty, exact, directions }: Turning,
  env: Pick<Work, 'bands'>,
  out: Samples,
): void {
  const { channels, data } = raster;
  const { taps, weights, first } = kernelOf(filter, 1, exact);
  const lanes = lanesOfTexel(channels);
  const padded = lanes === 1 ? Math.ceil(taps / 4) * 4 : taps;
  const reach = Math.ceil(PART * Math.max(extent(placing.xx, placing.xy), extent(placing.yx, placing.yy))) + padded + 2;
  const slots = layOut({
    staging: Math.max(reach, PART) * channels * data.BYTES_PER_ELEMENT,
    part: 4 * lanes * reach * reach,
    kernel: 4 * padded * (PHASES + 1),
    row: 4 * lanes * PART,
  });
  const kernel = floatsIn(slots.kernel);
  for (let phase = 0; phase <= PHASES; phase++) {
    kernel.set(weights.subarray(phase * taps, (phase + 1) * taps), phase * padded);
  }
  const samples = lanesFor(data, channels, slots.staging);
  const { turnRow1, turnRow4 } = kernels();
  const room = floatsIn(slots.part);
  const row = floatsIn(slots.row);
  const into = slots.row.at;

  const fill = (x0: number, y0: number, x1: number, y1: number): void => {
    const corner = placeOf(placing, x0, y0);
    const ends = [placeOf(placing, x1 - 1, y0), placeOf(placing, x0, y1 - 1), placeOf(placing, x1 - 1, y1 - 1)];
    const xs = [corner.x, ...ends.map(({ x }) => x)];
    const ys = [corner.y, ...ends.map(({ y }) => y)];
    const [left, top] = [Math.floor(Math.min(...xs)) + first - 1, Math.floor(Math.min(...ys)) + first - 1];
    const wide = Math.floor(Math.max(...xs)) + first + padded + 1 - left;
    const tall = Math.floor(Math.max(...ys)) + first + taps + 1 - top;
    const any = bringPart(raster, left, top, wide, tall, lanes, empty, room, (sample, texels, at) =>
      samples.read(sample, texels, slots.part.at + 4 * at),
    );
    const count = x1 - x0;
    for (let v = y0; v < y1; v++) {
      const start = channels * (v * placing.width + x0);
      if (!any) {
        out.fill(0, start, start + channels * count);
        continue;
      }
      const at = placeOf(placing, x0, v);
      const [x, y] = [at.x - left, at.y - top];
      const { xx, yx } = placing;
      const { at: part } = slots.part;
      const { at: table } = slots.kernel;
      if (lanes === 1) turnRow1(part, wide, x, y, xx, yx, table, taps, padded, PHASES, first, into, count);
      else turnRow4(part, wide, x, y, xx, yx, table, taps, PHASES, first, into, count);
      if (directions) writeDirections(row, placing, out as Uint16Array, start, count);
      else samples.write(into, count, out, start);
    }
  };

  env.bands(placing.height, (y0, y1) => {
    for (let y = y0; y < y1; y += PART) {
      for (let x = 0; x < placing.width; x += PART) {
        fill(x, y, Math.min(placing.width, x + PART), Math.min(y1, y + PART));
      }
    }
  });
}

const extent = (a: number, b: number) => Math.abs(a) + Math.abs(b);

/** Place of a texel's centre in the picture, from the centre of its first texel. */
function placeOf(p: Placing, u: number, v: number): { x: number; y: number } {
  return {
    x: p.xx * (u + 0.5) + p.xy * (v + 0.5) + p.x0 - 0.5,
    y: p.yx * (u + 0.5) + p.yy * (v + 0.5) + p.y0 - 0.5,
  };
}

/**
 * Brings a part of a picture into floats, with what lies beyond its border.
 *
 * @param read - Brings texels from the given sample on to the given float of the room.
 * @returns false where nothing is there and all of the part lies beyond.
 */
function bringPart(
  { width, height, channels }: Raster<Samples>,
  left: number,
  top: number,
  wide: number,
  tall: number,
  lanes: number,
  empty: boolean,
  room: Float32Array,
  read: (sample: number, texels: number, at: number) => void,
): boolean {
  const within = (v: number, most: number) => Math.min(most, Math.max(0, v));
  if (empty && (left >= width || top >= height || left + wide <= 0 || top + tall <= 0)) return false;
  const from = within(left, width - 1);
  const to = Math.max(from + 1, Math.min(width, left + wide));
  const [before, after] = [within(from - left, wide - 1), within(to - left, wide)];
  let last = -1;
  for (let y = 0; y < tall; y++) {
    const row = within(top + y, height - 1);
    const at = y * wide * lanes;
    if (empty && row !== top + y) {
      room.fill(0, at, at + wide * lanes);
      continue;
    }
    if (row === last) {
      room.copyWithin(at, at - wide * lanes, at);
      continue;
    }
    last = row;
    read(channels * (row * width + from), to - from, at + before * lanes);
    for (let x = 0; x < before; x++) copyTexel(room, at + x * lanes, at + before * lanes, lanes, empty);
    for (let x = after; x < wide; x++) copyTexel(room, at + x * lanes, at + (after - 1) * lanes, lanes, empty);
  }
  return true;
}

function copyTexel(room: Float32Array, to: number, from: number, lanes: number, empty: boolean): void {
  for (let c = 0; c < lanes; c++) room[to + c] = empty ? 0 : room[from + c];
}

/** Directions turn with the picture: where it is turned clockwise, they are too. */
function writeDirections(row: Float32Array, p: Placing, out: Uint16Array, start: number, count: number): void {
  const scale = Math.sqrt(Math.abs(p.xx * p.yy - p.xy * p.yx)) || 1;
  for (let i = 0, o = start; i < count; i++, o += 3) {
    const nx = (2 * row[4 * i]) / 65535 - 1;
    const ny = (2 * row[4 * i + 1]) / 65535 - 1;
    const nz = (2 * row[4 * i + 2]) / 65535 - 1;
    // a step to the right in the result is (xx, yx) in the picture, one down (xy, yy); y of a direction points up
    const right = (nx * p.xx - ny * p.yx) / scale;
    const down = (nx * p.xy - ny * p.yy) / scale;
    writeNormal(out, o, right, -down, nz);
  }
}

/** The nearest texel of each place, the border going on. */
export function takeNearest(
  { width, height, channels, data }: Raster<Samples>,
  p: Placing,
  env: Pick<Work, 'bands'>,
  out: Samples,
): void {
  env.bands(p.height, (y0, y1) => {
    for (let v = y0; v < y1; v++) {
      for (let u = 0, o = channels * v * p.width; u < p.width; u++) {
        const x = Math.min(width - 1, Math.max(0, Math.floor(p.xx * (u + 0.5) + p.xy * (v + 0.5) + p.x0)));
        const y = Math.min(height - 1, Math.max(0, Math.floor(p.yx * (u + 0.5) + p.yy * (v + 0.5) + p.y0)));
        for (let c = 0; c < channels; c++) out[o++] = data[channels * (y * width + x) + c];
      }
    }
  });
}
