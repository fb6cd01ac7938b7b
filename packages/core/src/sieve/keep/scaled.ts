import { makeMask, type Mask } from '../../raster/raster.ts';
import { coverageAt, histogram } from '../histogram.ts';

/**
 * Keep coverage by a scale per level (I. Castaño, "Computing Alpha Mipmaps", 2010): the alphas of a level are multiplied
 * by the one factor at which its coverage is nearest to that of level 0. Texels that share an alpha pass together, so that
 * the target is missed where there are many of one.
 *
 * @param coverage - Of level 0 at the threshold, 0–1.
 * @param threshold - Byte, 1–255.
 */
export function scaledToCoverage(level: Mask, threshold: number, coverage: number): Mask {
  const counts = histogram(level);
  let cut = 256;
  for (let t = 255; t >= 1; t--) {
    const better = Math.abs(coverageAt(counts, t) - coverage) < Math.abs(coverageAt(counts, cut) - coverage);
    if (better) cut = t;
  }
  const table = new Uint8Array(256);
  for (let v = 0; v < 256; v++) {
    const scaled = Math.floor((v * threshold) / cut + 0.5);
    table[v] = v >= cut ? Math.max(threshold, Math.min(255, scaled)) : Math.min(threshold - 1, scaled);
  }
  return makeMask(
    level.width,
    level.height,
    level.data.map((v) => table[v]),
  );
}
