import { SieveError } from '../errors.ts';
import { mapKind, type MapName } from './maps.ts';
import type { Mask, Picture, Raster, Samples } from './raster.ts';

/** Maps beside colour and mask, by name. */
export type Maps = ReadonlyMap<MapName, Raster<Samples>>;
export const NO_MAPS: Maps = new Map();

/** Size of the full picture, and how much of the card it takes up, as the steps of the fit leave it. */
export interface Frame {
  /** Texels of the full size, whatever size is computed. */
  readonly width: number;
  readonly height: number;
  /** Its width as a share of the width of the card that the whole picture was to lie on. */
  readonly share: number;
}

/** What stands between two steps of a run. The alpha of `colour` is the source's own; the mask is apart. */
export interface RunState {
  readonly colour: Picture;
  readonly mask: Mask;
  readonly maps: Maps;
  /** Left out where nothing was trimmed, turned or resized: then it is the colour's own size. */
  readonly frame?: Frame | undefined;
}

/** The state with what a step changed of it; maps that the step does not name stay. */
export function withChanges(state: RunState, { colour, mask, maps, frame }: Partial<RunState>): RunState {
  return {
    colour: colour ?? state.colour,
    mask: mask ?? state.mask,
    maps: maps ? new Map([...state.maps, ...maps]) : state.maps,
    ...(frame || state.frame ? { frame: frame ?? state.frame } : {}),
  };
}

/** @param scale - Texels here to one of the full size. */
export function frameOf({ frame, colour }: Pick<RunState, 'frame' | 'colour'>, scale = 1): Frame {
  return frame ?? { width: Math.round(colour.width / scale), height: Math.round(colour.height / scale), share: 1 };
}

/** @throws {@link SieveError} `missing-map` where the run makes none. */
export function mapOf(state: RunState, map: MapName): Raster<Samples> {
  const found = mapsOf(state).get(map);
  if (found) return found;
  const made = [...mapsOf(state).keys()].map((name) => mapKind(name).label).join(', ');
  throw new SieveError(
    'missing-map',
    `There is no map “${mapKind(map).label}” at this point. There are: ${made}.`,
    'Insert a step that makes it, or read another map.',
  );
}

/** Every map of a state by name, colour and mask first. */
export function mapsOf({ colour, mask, maps }: RunState): Map<MapName, Raster<Samples>> {
  return new Map<MapName, Raster<Samples>>([['colour', colour], ['mask', mask], ...maps]);
}
