import { LINEAR_OF_BYTE } from '../colour/srgb.ts';
import type { MapName } from '../raster/maps.ts';
import { mapStats, type MapStats } from '../raster/map-stats.ts';
import type { Mask, Picture, Raster, Samples } from '../raster/raster.ts';
import { HALF } from '../mask/edge-distance.ts';
import type { Doubt } from '../steps/step.ts';
import { haloOf, type Halo } from '../sieve/halo.ts';
import { strayLength } from '../relief/stray-length.ts';

/** What checks need to know of the maps of a run. */
export interface SurfaceFacts {
  /** Statistics of every map beside colour and mask. */
  maps: ReadonlyMap<MapName, MapStats>;
  halo: Halo;
  /** Share of each border that is kept. */
  borders: Borders;
  /** Whether the colour is made of directions of length 1 that mostly point outwards, as a normal map is. */
  colourIsNormals: boolean;
  /** How bright the kept colour is in the mean, 0 to 1, in linear light. */
  brightness: number;
}

/** What steps found doubtful. */
export function doubtsOf(steps: readonly { stepId: string; doubt?: Doubt }[]): { stepId: string; doubt: Doubt }[] {
  return steps.flatMap(({ stepId, doubt }) => (doubt ? [{ stepId, doubt }] : []));
}

/** Facts of maps as small as shows them: no side above a thousand texels or so. All have one size. A texel counts as kept from half alpha on, so that a
 * drag of the cutoff computes nothing. */
export function surfaceFacts(colour: Picture, mask: Mask, maps: ReadonlyMap<MapName, Raster<Samples>>): SurfaceFacts {
  const stats = new Map([...maps].map(([name, raster]) => [name, mapStats(raster, mask)] as const));
  const [, , blue] = mapStats(colour, mask).channels;
  return {
    maps: stats,
    halo: haloOf(colour, mask, HALF),
    borders: bordersOf(mask),
    brightness: brightnessOf(colour, mask),
    colourIsNormals: blue.mean > MOSTLY_OUT && strayLength(colour) < LIKE_NORMALS,
  };
}

function brightnessOf({ channels, data }: Picture, mask: Mask): number {
  let [sum, count] = [0, 0];
  for (let i = 0; i < mask.data.length; i++) {
    if (mask.data[i] < HALF) continue;
    for (let c = 0; c < 3; c++) sum += LINEAR_OF_BYTE[data[channels * i + c]];
    count += 3;
  }
  return count > 0 ? sum / count : 0;
}

export interface Borders {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

function bordersOf({ width, height, data }: Mask): Borders {
  const share = (count: number, at: (k: number) => number) => {
    let kept = 0;
    for (let k = 0; k < count; k++) if (data[at(k)] >= HALF) kept++;
    return kept / count;
  };
  return {
    left: share(height, (y) => y * width),
    right: share(height, (y) => y * width + width - 1),
    top: share(width, (x) => x),
    bottom: share(width, (x) => (height - 1) * width + x),
  };
}

const MOSTLY_OUT = 0.75;
const LIKE_NORMALS = 0.05;
