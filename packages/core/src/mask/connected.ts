import { makeMask, type Mask } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';
import { HALF } from './edge-distance.ts';
import { findRegions, paintRegions, regionAt, type Connectivity, type Regions } from './regions.ts';

/** A texel of the full size. */
export type TexelAt = [x: number, y: number];

/** Kept texels are connected by their corners too, dropped ones by their sides: so that one always ends the other. */
export function regionsOf({ data, width, height }: Mask, kept: boolean, env: Pick<Work, 'checkpoint'>): Regions {
  const connectivity: Connectivity = kept ? 8 : 4;
  const range = { low: kept ? HALF : 0, high: kept ? 255 : HALF - 1, connectivity };
  return findRegions(data, width, height, range, () => env.checkpoint(0));
}

/** The regions that hold one of these texels of the full size. */
export function regionsWith(regions: Regions, texels: readonly TexelAt[], scale: number): Set<number> {
  const found = texels.map(([x, y]) => regionAt(regions, Math.floor(x * scale), Math.floor(y * scale)));
  return new Set(found.filter((r) => r >= 0));
}

/** The regions that touch the picture's border. */
export function borderRegions({ boxes, count, width }: Regions, height: number): Set<number> {
  const out = new Set<number>();
  for (let r = 0; r < count; r++) {
    const [left, top, right, bottom] = boxes.subarray(4 * r, 4 * r + 4);
    if (left === 0 || top === 0 || right === width || bottom === height) out.add(r);
  }
  return out;
}

const STAYS = 1;
const GOES = 2;
const PARTLY = 3;

/**
 * The mask with some of its regions filled, and with them the soft rim that hangs on them and not on another region:
 * rims are given to the regions that stay first, outwards from each, then the rest to those that go.
 */
export function fillRegions(
  mask: Mask,
  regions: Regions,
  { goes, value }: { goes: (region: number) => boolean; value: number },
  env: Pick<Work, 'allocate' | 'bands'>,
): Mask {
  const { width, height, data } = mask;
  const owner = new Uint8Array(data.length);
  for (let i = 0; i < data.length; i++) if (data[i] > 0 && data[i] < 255) owner[i] = PARTLY;
  paintRegions(regions, (r) => !goes(r), owner, STAYS);
  paintRegions(regions, goes, owner, GOES);
  for (const claim of [STAYS, GOES]) {
    for (let round = 0; round < 2; round++) {
      env.bands(height, (y0, y1) => spread(owner, width, claim, y0 * width, y1 * width));
      env.bands(height, (y0, y1) => spreadBack(owner, width, claim, (height - y1) * width, (height - y0) * width));
    }
  }
  const out = env.allocate(data.length);
  for (let i = 0; i < out.length; i++) out[i] = owner[i] === GOES ? value : data[i];
  return makeMask(width, height, out);
}

function spread(owner: Uint8Array, width: number, claim: number, from: number, to: number): void {
  for (let i = Math.max(1, from); i < to; i++) {
    if (owner[i] === PARTLY && (owner[i - 1] === claim || (i > width && touches(owner, i - width, claim))))
      owner[i] = claim;
  }
}

function spreadBack(owner: Uint8Array, width: number, claim: number, from: number, to: number): void {
  const end = owner.length - 1;
  for (let i = Math.min(to, end) - 1; i >= from; i--) {
    if (owner[i] === PARTLY && (owner[i + 1] === claim || (i + width < end && touches(owner, i + width, claim))))
      owner[i] = claim;
  }
}

/** Whether one of three texels in a row is claimed. */
function touches(owner: Uint8Array, middle: number, claim: number): boolean {
  return owner[middle] === claim || owner[middle - 1] === claim || owner[middle + 1] === claim;
}
