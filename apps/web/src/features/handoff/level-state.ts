import {
  frameOf,
  makeMask,
  makePicture,
  toRgba8,
  type MapName,
  type Mask,
  type Raster,
  type RunState,
  type Samples,
} from '@lithe-sieve/core';
import type { EngineStore } from '../../stores/open-piece/engine';
import type { Thumb } from '../../workers/types';

/**
 * The run as it is at the first level whose longest side is at most `side`; null until it is computed.
 *
 * @param held - Levels of a mask that takes the place of the run's, since it is held at distance.
 */
export function levelState(
  { mask, maps }: Pick<EngineStore, 'mask' | 'maps'>,
  side: number,
  held: readonly Mask[] = [],
): RunState | null {
  const at = mask?.levels.findIndex(({ width, height }) => Math.max(width, height) <= side) ?? -1;
  if (!mask || !maps || at < 0) return null;
  const own = mask.levels[at];
  const level = held.find(({ width, height }) => width === own.width && height === own.height) ?? own;
  const rasters = new Map<MapName, Raster<Samples>>();
  for (const { map, levels } of maps.maps) {
    if (levels[at]?.width === level.width && levels[at].height === level.height) rasters.set(map, levels[at]);
  }
  const colour = rasters.get('colour');
  if (!colour) return null;
  rasters.delete('colour');
  const picture = makePicture(level.width, level.height, colour.data as Uint8Array);
  const state = { colour: picture, mask: makeMask(level.width, level.height, level.data), maps: rasters };
  return { ...state, frame: frameOf(state) };
}

/** A raster as a canvas takes it. */
export function thumbOf(raster: Raster<Samples>): Thumb {
  const { width, height, data } = toRgba8(raster);
  return { width, height, rgba: new Uint8ClampedArray(data) };
}
