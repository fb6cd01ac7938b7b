import { mapKind, type MapName } from '../raster/maps.ts';
import { allocate16, makeMask, type Raster, type Samples } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';
import type { MipFilter } from '../sieve/mip-filters.ts';
import { withoutBeyond } from './covered.ts';
import { scaleBoth, type Reading } from './scale.ts';
import type { Placing } from './placing.ts';
import { takeNearest, turned } from './turn.ts';

/**
 * A map in its new place. What lies beyond the picture: nothing is kept there, all else goes on. Where it gets smaller it is
 * scaled first, one axis after the other, and then turned: a filter of 6 × 6 texels instead of one as wide as the step.
 *
 * @param exact - The border of a mask goes on under the filter, and a box is an area. Else as in version 1 of the steps:
 *   nothing lies beyond, and a box counts texels in or out.
 */
export function resampleMap(
  name: MapName,
  raster: Raster<Samples>,
  placing: Placing,
  filter: MipFilter,
  env: Pick<Work, 'allocate' | 'bands' | 'checkpoint'>,
  exact = true,
): Raster<Samples> {
  const moved = wholeShift(placing);
  if (moved) return shifted(name, raster, placing, moved, env);
  const { mips, channels } = mapKind(name);
  const { width, height } = placing;
  const make = (count: number) =>
    raster.data instanceof Uint8Array ? env.allocate(count) : allocate16(count, env.allocate);
  const done = (out: Samples) => {
    if (name !== 'mask') return { width, height, channels: raster.channels, data: out };
    const mask = makeMask(width, height, out as Uint8Array);
    if (exact) withoutBeyond(mask, placing, raster, env);
    return mask;
  };
  const empty = name === 'mask' && !exact;
  const upright = placing.xy === 0 && placing.yx === 0;
  if (upright && mips !== 'one of them' && mips !== 'renormalised normals') {
    const out = make(channels * width * height);
    const { xx, x0, yy, y0 } = placing;
    const along = [
      { length: width, scale: xx, offset: x0 },
      { length: height, scale: yy, offset: y0 },
    ] as const;
    scaleBoth(raster, along, filter, { empty, exact }, env, out);
    return done(out);
  }
  const scale = Math.sqrt(Math.abs(placing.xx * placing.yy - placing.xy * placing.yx));
  const small =
    scale > 1 && mips !== 'one of them' ? shrunk(raster, scale, filter, { empty, exact }, env) : { raster, by: 1 };
  const way = scaledPlacing(placing, 1 / small.by);
  const out = make(channels * width * height);
  if (mips === 'one of them') takeNearest(raster, placing, env, out);
  else turned(small.raster, way, filter, { empty, exact, directions: mips === 'renormalised normals' }, env, out);
  return done(out);
}

/** The picture made smaller so that a texel of it is one of the result. */
function shrunk(
  raster: Raster<Samples>,
  scale: number,
  filter: MipFilter,
  how: Reading,
  env: Pick<Work, 'allocate' | 'bands' | 'checkpoint'>,
): { raster: Raster<Samples>; by: number } {
  const { width, height, channels, data } = raster;
  const [w, h] = [Math.ceil(width / scale), Math.ceil(height / scale)];
  const count = channels * w * h;
  const out = data instanceof Uint8Array ? env.allocate(count) : allocate16(count, env.allocate);
  const along = [
    { length: w, scale, offset: 0 },
    { length: h, scale, offset: 0 },
  ] as const;
  scaleBoth(raster, along, filter, how, env, out);
  return { raster: { width: w, height: h, channels, data: out }, by: scale };
}

function scaledPlacing(p: Placing, by: number): Placing {
  return { ...p, xx: p.xx * by, xy: p.xy * by, x0: p.x0 * by, yx: p.yx * by, yy: p.yy * by, y0: p.y0 * by };
}

/** Whole texels that all is shifted by; null where it is turned, scaled or shifted by a fraction. */
function wholeShift({ xx, xy, yx, yy, x0, y0 }: Placing): { x: number; y: number } | null {
  const plain = xx === 1 && yy === 1 && xy === 0 && yx === 0 && Number.isInteger(x0) && Number.isInteger(y0);
  return plain ? { x: x0, y: y0 } : null;
}

function shifted(
  name: MapName,
  { width, height, channels, data }: Raster<Samples>,
  to: Placing,
  { x, y }: { x: number; y: number },
  env: Pick<Work, 'allocate' | 'bands' | 'checkpoint'>,
): Raster<Samples> {
  const count = channels * to.width * to.height;
  const out = data instanceof Uint8Array ? env.allocate(count) : allocate16(count, env.allocate);
  const clamp = (v: number, least: number, most: number) => (v < least ? least : v > most ? most : v);
  // texels of a row of the result that lie in the picture: from here to there; the border goes on beside them
  const from = clamp(-x, 0, to.width);
  const end = clamp(width - x, from, to.width);
  const copy = (texel: number, times: number, o: number) => {
    for (let k = 0; k < times; k++)
      for (let c = 0; c < channels; c++) out[o + channels * k + c] = data[channels * texel + c];
  };
  env.bands(to.height, (y0, y1) => {
    for (let v = y0; v < y1; v++) {
      const row = clamp(v + y, 0, height - 1) * width;
      const o = channels * v * to.width;
      if (name === 'mask' && (v + y < 0 || v + y >= height)) continue; // nothing is there
      const start = channels * (row + x + from);
      if (end > from) out.set(data.subarray(start, start + channels * (end - from)), o + channels * from);
      if (name === 'mask') continue;
      copy(row, from, o);
      copy(row + width - 1, to.width - end, o + channels * end);
    }
  });
  return name === 'mask'
    ? makeMask(to.width, to.height, out as Uint8Array)
    : { width: to.width, height: to.height, channels, data: out };
}
