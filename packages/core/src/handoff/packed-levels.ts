import type { PackedFile } from '../piece/packing.ts';
import type { PieceDoc } from '../piece/piece-doc.ts';
import type { MapName } from '../raster/maps.ts';
import type { Raster, Samples } from '../raster/raster.ts';
import { mapsOf, type RunState } from '../raster/run-state.ts';
import { mapMips } from '../sieve/map-mips.ts';
import type { SourceOf } from '../sieve/own-levels.ts';
import { mapRaster } from './map-files.ts';
import { channelsOf } from './packed.ts';
import { colourLevels, finishedMasks } from './texture-levels.ts';

/**
 * Every level of a packed file, the largest first, 8 bits each: colour and mask as the Bench has their levels, each other
 * map as its own are made.
 *
 * @param state - Finished.
 */
export function packedLevels(
  { as, halvings, fills }: PackedFile,
  state: RunState,
  doc: Pick<PieceDoc, 'material' | 'levels' | 'handOff'>,
  sourceOf?: SourceOf,
): Raster[] {
  const made = new Map<MapName, readonly (Raster<Samples> | undefined)[] | null>();
  for (const fill of fills) {
    if ('map' in fill && !made.has(fill.map)) made.set(fill.map, levelsOf(fill.map, state, doc, sourceOf));
  }
  const out: Raster[] = [];
  const { width, height } = state.colour;
  for (let n = halvings; ; n++) {
    const [w, h] = [Math.max(1, width >> n), Math.max(1, height >> n)];
    out.push(channelsOf({ as, bits: 8, fills }, w, h, (map) => made.get(map)?.[n] ?? null) as Raster);
    if (w === 1 && h === 1) return out;
  }
}

function levelsOf(
  map: MapName,
  state: RunState,
  doc: Pick<PieceDoc, 'material' | 'levels' | 'handOff'>,
  sourceOf: SourceOf | undefined,
): readonly Raster<Samples>[] | null {
  if (map === 'mask') return finishedMasks(doc, state.mask, sourceOf);
  if (map === 'colour') return colourLevels(state.colour, state.mask, doc, sourceOf ? { sourceOf } : {});
  const raster = map === 'normal' ? mapRaster(map, state, doc.handOff) : mapsOf(state).get(map);
  return raster ? [raster, ...mapMips(map, raster)] : null;
}

/** Which channel of a packed file is the mask as it is; −1: none. */
export const maskChannel = ({ fills }: Pick<PackedFile, 'fills'>) =>
  fills.findIndex((fill) => 'map' in fill && fill.map === 'mask' && !fill.inverted);
