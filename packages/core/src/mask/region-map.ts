import type { Mask } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';
import { findNearest } from './nearest.ts';
import { findRegions, regionAt } from './regions.ts';

/** Which region every texel belongs to. */
export interface RegionMap {
  readonly count: number;
  /** 0 is the largest region. Texels without any alpha belong to the nearest one; all 0 where nothing is kept. */
  readonly regionOf: Uint16Array;
}

const MOST = 65535;

/**
 * The connected parts of a mask, by sides and corners, numbered from the largest down, so that the large ones have the
 * same number at view size. Of more than 65535, the smallest share the last number.
 */
export function regionMap(mask: Mask, env: Pick<Work, 'bands' | 'checkpoint'>): RegionMap {
  const { width, height, data } = mask;
  const regions = findRegions(data, width, height, { low: 1, high: 255, connectivity: 8 }, () => env.checkpoint(0));
  const order = Array.from({ length: regions.count }, (_, r) => r);
  order.sort((a, b) => regions.areas[b] - regions.areas[a] || regions.firsts[a] - regions.firsts[b]);
  const rank = new Uint16Array(regions.count);
  for (const [i, r] of order.entries()) rank[r] = Math.min(MOST, i);
  const out = new Uint16Array(width * height);
  for (let i = 0; i < regions.regionOf.length; i++) {
    const row = regions.runs[3 * i] * width;
    out.fill(rank[regions.regionOf[i]], row + regions.runs[3 * i + 1], row + regions.runs[3 * i + 2]);
  }
  findNearest(mask, { threshold: 1 }, env, {
    own: () => undefined,
    none: () => undefined,
    found(from, to, found) {
      const y = Math.floor(found / width);
      out.fill(rank[regionAt(regions, found - y * width, y)], from, to);
    },
  });
  return { count: regions.count, regionOf: out };
}
