import { textOf, utf8 } from '../../codec/utf8.ts';
import { hasRegions } from '../../piece/has-regions.ts';
import type { PieceDoc } from '../../piece/piece-doc.ts';
import { atlasRegions, type AtlasRegion } from '../../recipe/atlas/regions.ts';
import { WITHOUT_PICTURE, type FileFormat } from '../file-format.ts';
import type { RegionsPlan } from '../file-plan.ts';

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

export const REGIONS_FILE: RegionsPlan = {
  slot: 'regions',
  extension: 'json',
  holds: 'regions',
  contents: 'JSON: name, UV rectangle and outline of each part',
};

/** Names, UV rectangles and outlines of an atlas's parts. */
export const REGIONS_FORMAT: FileFormat<RegionsPlan> = {
  ...WITHOUT_PICTURE,
  write(_, { doc, state: { colour } }, { partOf }) {
    const recipe = doc.sources[0]?.recipe;
    if (!partOf || !recipe || !hasRegions(doc)) return Promise.resolve(null);
    const { width, height } = colour;
    const regions = atlasRegions(recipe, partOf);
    const said: RegionsFile = { atlas: doc.name, width, height, metres: doc.cardWidth, origin: 'top left', regions };
    return Promise.resolve({
      bytes: utf8(`${JSON.stringify(said, null, 2)}\n`),
      contents: `${regions.length} regions: names, UV rectangles, outlines`,
      check(bytes, piece, _tools, add) {
        const found = (JSON.parse(textOf(bytes)) as RegionsFile).regions.length;
        const placed = placedIn(piece);
        const left = placed - found;
        const more = left === 0 ? '' : `; ${left} of ${placed} parts keep nothing`;
        add('a region for each part', left === 0, `${found} regions${more}`);
      },
    });
  },
};

function placedIn({ sources }: PieceDoc): number {
  const recipe = sources[0]?.recipe;
  return recipe?.kind === 'atlas' ? recipe.params.placed.length : 0;
}
