import type { MapName } from './maps.ts';
import type { Mask, Picture, Raster, Samples } from './raster.ts';

/** Maps beside colour and mask, by name. */
export type Maps = ReadonlyMap<MapName, Raster<Samples>>;
export const NO_MAPS: Maps = new Map();

/** What stands between two steps of a run. The alpha of `colour` is the source's own; the mask is apart. */
export interface RunState {
  readonly colour: Picture;
  readonly mask: Mask;
  readonly maps: Maps;
}

/** The state with what a step changed of it; maps that the step does not name stay. */
export function withChanges(state: RunState, { colour, mask, maps }: Partial<RunState>): RunState {
  return {
    colour: colour ?? state.colour,
    mask: mask ?? state.mask,
    maps: maps ? new Map([...state.maps, ...maps]) : state.maps,
  };
}

/** Every map of a state by name, colour and mask first. */
export function mapsOf({ colour, mask, maps }: RunState): Map<MapName, Raster<Samples>> {
  return new Map<MapName, Raster<Samples>>([['colour', colour], ['mask', mask], ...maps]);
}
