// An atlas of 64 leaves: how long packing takes, the area that it uses beside a packer of boxes, and what growing it takes.
import { growRecipe, makeMask, makeRecipe, packAtlas, partOf, type AtlasParams, type Picture, type Recipe } from '@lithe-sieve/core'; // prettier-ignore
import { timed } from './race.ts';

const bands = (height: number, rows: (y0: number, y1: number) => void) => rows(0, height);
const allocate = (bytes: number) => new Uint8Array(bytes);
const pictures = new Map<string, Picture>();

/** A leaf bent by its seed, and as wide. */
function leaf(seed: number, widest: number) {
  const recipe = makeRecipe('tuft', { seed, width: 512, height: 512, blades: 1, envelope: [0.9], shorter: 0.5, bladeWidth: widest, slimmer: 0.5, fromX: 0.5, toX: 0.5, fromY: 0.95, toY: 0.95, leanSpread: 40, bendTo: 90, torn: 0 }); // prettier-ignore
  const { picture } = growRecipe(recipe, { scale: 1, allocate, bands }, { withMaps: false });
  const alpha = picture.data.filter((_, i) => i % 4 === 3);
  const part = partOf({ colour: picture, mask: makeMask(512, 512, alpha), maps: new Map() }).picture;
  const sha256 = `${widest} ${seed}`;
  pictures.set(sha256, part);
  return { sha256, name: sha256, width: part.width, height: part.height, piece: 'bench', revision: 0 };
}

for (const [name, widest] of [
  ['slender, bent leaves', 0.16],
  ['broad leaves', 0.4],
] as const) {
  const parts = Array.from({ length: 64 }, (_, k) => leaf(k + 1, widest));
  for (const turning of ['any angle', 'quarter turns', 'not at all'] as const) {
    const recipe = { ...makeRecipe('atlas', { width: 4096, height: 4096, turning }), parts } as Extract<Recipe, { kind: 'atlas' }>; // prettier-ignore
    const how = { pictureOf: (part: string) => pictures.get(part), keep: false, checkpoint: () => undefined };
    packAtlas(recipe, how);
    let packing = { placed: [] as AtlasParams['placed'], used: 0, byBoxes: 0 };
    const ms = await timed(() => (packing = packAtlas(recipe, how)));
    const { placed, used, byBoxes } = packing;
    console.log(
      `64 ${name}, ${turning}: ${Math.round(ms)} ms (wanted 3000); used ${(100 * used).toFixed(1)} %, boxes ${(100 * byBoxes).toFixed(1)} %: ${(100 * (used / byBoxes - 1)).toFixed(0)} % more (wanted 10)`,
    );
    if (turning !== 'any angle') continue;
    const packed = { ...recipe, params: { ...recipe.params, placed } };
    const view = { scale: 1 / 8, allocate, bands };
    const soon = { withMaps: false, draft: true, pictureOf: how.pictureOf };
    for (let k = 0; k < 3; k++) growRecipe(packed, view, soon);
    console.log(
      `  512², first answer: ${Math.round(await timed(() => growRecipe(packed, view, soon)))} ms (wanted 100)`,
    );
    for (const withMaps of [false, true]) {
      const grown = await timed(() => growRecipe(packed, { scale: 1, allocate, bands }, { withMaps, pictureOf: how.pictureOf })); // prettier-ignore
      console.log(`  grown at 4096², ${withMaps ? 'all maps' : 'colour'}: ${Math.round(grown)} ms`);
    }
  }
}
