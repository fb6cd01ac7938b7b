import type { Work } from '../raster/work.ts';
import { layOut } from '../simd/simd.ts';
import {
  bandBytes,
  bandIn,
  clear,
  closed,
  cut,
  meansOf,
  PlainShader,
  resolve,
  ROWS,
  shadeStamp,
  SURFACE_SLOTS,
  type Grown,
} from './band.ts';
import { areasAt, areaSlots } from './deposit.ts';
import { FRAME, type Scene } from './scene.ts';
import { depositShape, shapesOf } from './shapes.ts';

/** Shapes of a band between two looks whether something newer is wanted, and whether anything is still to be seen. */
const LOOK_EVERY = 64;

/**
 * Paints a scene: every shape by the exact area that it covers of each texel, from the front to the back, colours mixed
 * as light. Colour is straight; under alpha 0 it is `ground`.
 *
 * @param grown - Takes the result; the widths of the scene are widths of this.
 * @param ground - Linear R, G, B, 0–1.
 * @param most - Rows that are painted together.
 * @param finer - Drawn so many times as fine both ways, and averaged: what thin shapes side by side cover of a texel then
 *   adds up. A divisor of `most`.
 */
export function paintScene(
  scene: Scene,
  grown: Grown,
  ground: readonly number[],
  env: Pick<Work, 'bands'> & Partial<Pick<Work, 'checkpoint'>>,
  most = ROWS,
  finer = 1,
): void {
  const width = finer * grown.width;
  const height = finer * grown.height;
  const shapes = shapesOf(scene, width, height, most, () => env.checkpoint?.(0));
  const withMaps = grown.maps !== null;
  const slots = layOut({
    ...{ ...areaSlots(width, most), ...SURFACE_SLOTS, cells: bandBytes(width, most, withMaps) },
    means: finer > 1 ? bandBytes(grown.width, most / finer, withMaps) : 0,
  });
  const areas = areasAt(slots, width);
  const band = bandIn(slots.cells, width, withMaps);
  const means = finer > 1 ? bandIn(slots.means, grown.width, withMaps) : band;
  const plain = new PlainShader(slots);
  env.bands(grown.height, (y0, y1) => {
    for (let top = finer * y0; top < finer * y1;) {
      const at = Math.floor(top / most);
      // bands of the host may begin anywhere, ours are the same at every size of them
      const rows = Math.min((at + 1) * most, finer * y1) - top;
      clear(band, rows * width);
      for (let k = shapes.bandStarts[at], n = 1; k < shapes.bandStarts[at + 1]; k++, n++) {
        if (n % LOOK_EVERY === 0) {
          env.checkpoint?.(top / height);
          if (closed(band, rows * width)) break; // nothing of what lies behind is seen
        }
        const shape = shapes.inBand[k];
        if (!depositShape(areas, shapes, shape, top, rows)) continue;
        const own = shapes.own[shape];
        const surface = shapes.surfaces[shapes.surfaceOf[shape]];
        if (surface?.stamp)
          shadeStamp(band, areas, rows, top, own, shapes.frames, shape * FRAME, surface, surface.stamp, withMaps);
        else if (surface) plain.shade(band, areas, rows, top, own, shapes.frames, shape * FRAME, surface, withMaps);
        else cut(band, areas, rows, own);
      }
      if (finer > 1) meansOf(band, finer, means, rows / finer);
      resolve(means, grown, ground, top / finer, rows / finer);
      top += rows;
    }
  });
}
