import type { PieceDoc } from '../piece/piece-doc.ts';
import { MAP_NAMES, mapKind, type MapName } from '../raster/maps.ts';
import type { Picture, Raster, Samples } from '../raster/raster.ts';
import { withAlphaOf } from '../raster/with-alpha.ts';
import { GLTF_PICTURES } from '../material/slot-pictures.ts';
import { mapsOf, type RunState } from '../raster/run-state.ts';
import type { PicturePlan } from './file-plan.ts';
import type { FileSlot } from '../piece/profile-id.ts';

/** Every map that has a file of its own, in the order of the table. */
const OWN_FILES = MAP_NAMES.filter((map) => map !== 'colour' && map !== 'mask');

export const slotOf = (map: MapName): FileSlot => (map === 'tintId' ? 'tint-id' : (map as FileSlot));

/** A PNG for each map beside colour and mask. */
export const MAP_FILES: readonly PicturePlan[] = OWN_FILES.map((map) => {
  const { channels, depth, holds, label } = mapKind(map);
  return {
    slot: slotOf(map),
    extension: 'png',
    holds: map,
    contents:
      holds === 'colour'
        ? `${label}: RGBA, the mask as alpha`
        : `${label}: ${channels === 1 ? 'grey' : 'RGB'}, ${depth} bits, data`,
  };
});

export const SURFACE_FILE: PicturePlan = {
  slot: 'surface',
  extension: 'png',
  holds: 'occlusion, roughness, metalness',
  contents: 'occlusion in red, roughness in green, metalness in blue, 8 bits each, data',
};

/** A file of each picture that a material of glTF has beside its colour, but for the surface. */
export const GLTF_FILES: readonly PicturePlan[] = Object.entries(GLTF_PICTURES).map(
  ([map, { label, channels, holds }]) => ({
    slot: slotOf(map as MapName),
    extension: 'png',
    holds: map as MapName,
    forGltf: true,
    contents: `${label}: ${channels === 4 ? 'RGBA, read from alpha' : 'RGB'}, 8 bits each, ${holds}`,
  }),
);

/** A map as it is handed off: normals with green the way that the target has it. */
export function mapRaster(
  map: MapName,
  state: RunState,
  { green }: Pick<PieceDoc['handOff'], 'green'>,
): Raster<Samples> | null {
  const raster = mapsOf(state).get(map);
  if (!raster) return null;
  if (map === 'backColour') return withAlphaOf(raster as Picture, state.mask);
  return map === 'normal' && green === 'DirectX' ? greenDown(raster) : raster;
}

function greenDown(raster: Raster<Samples>): Raster<Samples> {
  const data = raster.data.slice();
  const full = data instanceof Uint8Array ? 256 : 65536;
  for (let i = 1; i < data.length; i += 3) data[i] = Math.min(full - 1, full - data[i]);
  return { ...raster, data };
}
