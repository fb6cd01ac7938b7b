import type { Mask } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';
import { edgeOffset, HALF } from './edge-distance.ts';
import { findNearest } from './nearest.ts';

/**
 * How deep inside the silhouette every texel lies: the distance from its centre to the edge at half alpha, in texels,
 * fractions of a texel by the nearest dropped texel's own cover; 0 outside. Beyond the picture all is taken as the
 * picture itself goes on, so that a mask that fills it has no edge: such texels are as deep as `most`.
 *
 * @param most - Deeper is not looked, texels.
 */
export function depthInside(mask: Mask, most: number, env: Pick<Work, 'bands'>): Float32Array {
  const { width, height, data } = mask;
  const out = new Float32Array(width * height);
  findNearest(mask, { threshold: HALF, below: true, reach: most + 1 }, env, {
    own: () => undefined,
    none: (from, to) => void out.fill(most, from, to),
    found(from, to, found) {
      const fy = Math.floor(found / width);
      const fx = found - fy * width;
      const y = Math.floor(from / width);
      const dy = y - fy;
      const cover = data[found] / 255;
      for (let i = from, dx = from - y * width - fx; i < to; i++, dx++) {
        const far = Math.sqrt(dx * dx + dy * dy) - (cover > 0 ? edgeOffset(cover, dx, dy) : 0.5);
        out[i] = far < 0 ? 0 : far > most ? most : far;
      }
    },
  });
  return out;
}
