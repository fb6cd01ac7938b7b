import type { Box } from '../raster/box.ts';
import type { Mask } from '../raster/raster.ts';

/** The least box around the texels at or above a threshold; null where there is none. */
export function keptBox({ width, height, data }: Mask, threshold: number): Box | null {
  const box = { x0: width, y0: height, x1: 0, y1: 0 };
  for (let y = 0; y < height; y++) {
    const row = data.subarray(y * width, (y + 1) * width);
    const from = row.findIndex((v) => v >= threshold);
    if (from < 0) continue;
    box.x0 = Math.min(box.x0, from);
    box.x1 = Math.max(box.x1, row.findLastIndex((v) => v >= threshold) + 1);
    box.y0 = Math.min(box.y0, y);
    box.y1 = y + 1;
  }
  return box.y1 > 0 ? box : null;
}
