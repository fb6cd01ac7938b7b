import { makeMask, type Mask } from '../../raster/raster.ts';
import { chooseSides } from '../hold/sides.ts';
import { halfSize, isEven, sharesBelow, sharesOfTexels, UNIT, type Reach } from '../hold/reach.ts';

/** How far from the threshold an alpha is put that would be on the other side by itself. */
const CLEAR = 16;

/**
 * Keep coverage locally: every window of 4 × 4 texels of a level keeps as many texels as the share that level 0 keeps
 * there, what is left over goes to the windows around it. The texels kept are those with the largest share; an alpha
 * changes only where it is on the other side.
 *
 * @param mask - Level 0.
 * @param levels - Levels 1 and on, by whatever filter.
 * @param threshold - Byte, 1–255.
 */
export function localCoverage(mask: Mask, levels: readonly Mask[], threshold: number): Mask[] {
  let shares = sharesOfTexels(mask, threshold);
  let size: { width: number; height: number } = isEven(mask, halfSize(mask)) ? halfSize(mask) : mask;
  return levels.map((level) => {
    if (size.width !== level.width || size.height !== level.height) shares = sharesBelow(shares, size);
    size = level;
    return onItsSides(level, shares, threshold);
  });
}

function onItsSides(level: Mask, share: Uint16Array, threshold: number): Mask {
  const { width, height, data } = level;
  const texels = data.length;
  const mean = new Uint16Array(texels);
  for (let i = 0; i < texels; i++) mean[i] = data[i] << 8;
  const free = new Uint16Array(texels).fill(255 * UNIT);
  const none = new Uint16Array(texels);
  const kept = new Uint8Array(texels);
  const reach: Reach = { width, height, low: none, high: free, lowFree: none, highFree: free, mean, share, kept };
  const centre = threshold * UNIT - UNIT / 2;
  chooseSides(reach, null, { centre, need: centre, safe: 0, top: 255 * UNIT, ease: 0 }, false);
  const [least, most] = [Math.min(255, threshold + CLEAR), Math.max(0, threshold - 1 - CLEAR)];
  const out = new Uint8Array(texels);
  for (let i = 0; i < texels; i++) {
    const v = data[i];
    out[i] = kept[i] ? (v >= threshold ? v : least) : v < threshold ? v : most;
  }
  return makeMask(width, height, out);
}
