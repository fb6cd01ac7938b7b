import { hasRegions } from '../piece/has-regions.ts';
import type { PieceDoc } from '../piece/piece-doc.ts';
import type { RunState } from '../raster/run-state.ts';
import { atlasRegions, type AtlasRegion } from '../recipe/atlas/regions.ts';
import type { PartPicture } from '../recipe/grow.ts';
import { fileStem } from './file-name.ts';
import type { Check } from './read-back.ts';

/** What stands in the file of an atlas's regions, as JSON. */
export interface RegionsFile {
  /** Name of the piece. */
  atlas: string;
  /** Texels of the texture. */
  width: number;
  height: number;
  /** Width of the whole atlas on a card, metres. */
  metres: number;
  /** Where (0, 0) is; u grows to the right and v down, as in glTF 2.0. */
  origin: 'top left';
  regions: AtlasRegion[];
}

export function regionsName(doc: PieceDoc, size: { width: number; height: number }): string {
  return `${fileStem(doc, 'regions', size)}.json`;
}

/** Names, UV rectangles and outlines of an atlas's parts; null where the piece has none. */
export function regionsFile(
  doc: PieceDoc,
  { colour }: RunState,
  pictureOf: PartPicture,
): { name: string; contents: string; text: string; check: Check } | null {
  if (!hasRegions(doc)) return null;
  const { width, height } = colour;
  const recipe = doc.sources[0].recipe!;
  const regions = atlasRegions(recipe, pictureOf);
  const placed = recipe.kind === 'atlas' ? recipe.params.placed.length : 0;
  const left = placed - regions.length;
  const name = regionsName(doc, colour);
  const said: RegionsFile = { atlas: doc.name, width, height, metres: doc.cardWidth, origin: 'top left', regions };
  return {
    name,
    contents: `${regions.length} regions: names, UV rectangles, outlines`,
    text: `${JSON.stringify(said, null, 2)}\n`,
    check: {
      file: name,
      what: 'a region for each part',
      ok: left === 0,
      found:
        left === 0 ? `${regions.length} regions` : `${regions.length} regions; ${left} of ${placed} parts keep nothing`,
    },
  };
}
