import { makeMask, type Mask } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';
import { nearestTexels } from './nearest.ts';

/** Alpha from which a texel counts as kept when edges are looked for, whatever the material's cutoff is. */
export const HALF = 128;

/**
 * Distance from a texel's centre to the straight edge that covers `cover` (0–1) of it and faces (gx, gy): positive
 * where the centre lies outside. S. Gustavson, R. Strand, "Anti-aliased Euclidean distance transform" (2011).
 */
export function edgeOffset(cover: number, gx: number, gy: number): number {
  const length = Math.sqrt(gx * gx + gy * gy);
  if (length === 0) return 0.5 - cover;
  const a = Math.abs(gx) / length;
  const b = Math.abs(gy) / length;
  const wide = a > b ? a : b;
  const slim = a > b ? b : a;
  if (slim === 0) return 0.5 - cover;
  const corner = (0.5 * slim) / wide;
  if (cover < corner) return 0.5 * (wide + slim) - Math.sqrt(2 * wide * slim * cover);
  if (cover < 1 - corner) return (0.5 - cover) * wide;
  return -0.5 * (wide + slim) + Math.sqrt(2 * wide * slim * (1 - cover));
}

/**
 * The mask with its edge moved outwards by `by` texels (any fraction), redrawn one texel wide; what was kept stays.
 * Distances are to the edge inside the nearest kept texel, so that a soft edge moves by what was asked, not by steps.
 */
export function growMask(mask: Mask, by: number, env: Pick<Work, 'allocate' | 'bands'>): Mask {
  const { width, height } = mask;
  const nearest = nearestTexels(mask, { threshold: HALF, reach: by + 2 }, env);
  const out = env.allocate(width * height);
  env.bands(height, (y0, y1) => growRows(mask, nearest, by, out, y0, y1));
  return makeMask(width, height, out);
}

/** Up to a diagonal neighbour. */
const BESIDE = 1.5;

function growRows(
  { width, height, data }: Mask,
  nearest: Int32Array,
  by: number,
  out: Uint8Array,
  y0: number,
  y1: number,
): void {
  for (let y = y0; y < y1; y++) {
    for (let x = 0, i = y * width; x < width; x++, i++) {
      const own = data[i];
      const at = nearest[i];
      out[i] = own;
      if (own === 255 || at < 0) continue;
      const sy = Math.floor(at / width);
      let dx = x - (at - sy * width);
      let dy = y - sy;
      const far = Math.sqrt(dx * dx + dy * dy);
      if (far > by + 2) continue;
      const beside = own > 0 && far < BESIDE; // its own cover tells more than the neighbour's
      if (beside) {
        const left = x > 0 ? i - 1 : i;
        const right = x + 1 < width ? i + 1 : i;
        const up = y > 0 ? i - width : i;
        const down = y + 1 < height ? i + width : i;
        dx = data[left] - data[right];
        dy = data[up] - data[down];
      }
      const away = beside ? edgeOffset(own / 255, dx, dy) : far + edgeOffset(data[at] / 255, dx, dy);
      const alpha = 0.5 + by - away;
      const byte = alpha >= 1 ? 255 : Math.floor(alpha * 255 + 0.5);
      if (byte > own) out[i] = byte;
    }
  }
}
