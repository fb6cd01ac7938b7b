// Recipes at 4096² and at view size, in milliseconds; the same shapes drawn by a vector rasteriser, colour only.
import { growRecipe, makeRecipe, sceneOf, type Recipe } from '@lithe-sieve/core/testing';
import sharp from 'sharp';
import { runRaces, type Race } from './race.ts';

const SIDE = 4096;
const VIEW = 1 / 8;

function grow(recipe: Recipe, scale: number, withMaps: boolean, draft = false) {
  return growRecipe(
    recipe,
    {
      scale,
      allocate: (bytes) => new Uint8Array(bytes),
      bands(height, rows) {
        for (let y = 0; y < height; y += 256) rows(y, Math.min(height, y + 256));
      },
    },
    { withMaps, draft },
  );
}

/** Every shape as a path of its own, from the back to the front, filled with one colour. */
function asSvg(recipe: Recipe): Buffer {
  const scene = sceneOf(recipe);
  const order = scene.owners.map((_, i) => i).sort((a, b) => scene.owners[a].z - scene.owners[b].z || a - b);
  const paths: string[] = [];
  for (const at of order) {
    const { first, end, surface } = scene.owners[at];
    if (!surface) continue; // a hole needs a mask of its own there
    const code = (v: number) => Math.round(255 * Math.min(1, v ** (1 / 2.2)));
    const middle = Math.floor(surface.along.length / 6) * 3;
    const colour = [0, 1, 2].map((c) => code(surface.along[middle + c])).join();
    const outline: string[] = [];
    for (let shape = first; shape < end; shape++) {
      const stop = scene.starts[shape + 1] ?? scene.corners.length / 2;
      const corners = [];
      for (let i = scene.starts[shape]; i < stop; i++) {
        corners.push(`${(scene.corners[2 * i] * SIDE).toFixed(2)} ${(scene.corners[2 * i + 1] * SIDE).toFixed(2)}`);
      }
      outline.push(`M${corners.join('L')}Z`);
    }
    paths.push(`<path fill="rgb(${colour})" d="${outline.join('')}"/>`);
  }
  return Buffer.from(
    `<svg xmlns="http://www.w3.org/2000/svg" width="${SIDE}" height="${SIDE}">${paths.join('')}</svg>`,
  );
}

const size = { width: SIDE, height: SIDE };
const RECIPES: [name: string, recipe: Recipe, wanted: number][] = [
  ['tuft of 400 blades', makeRecipe('tuft', { ...size, blades: 400 }), 2500],
  ['2,000 strands', makeRecipe('strands', { ...size, strands: 2000 }), 2500],
  ['spray with 8 branches', makeRecipe('spray', { ...size, branches: 8 }), 2500],
  ['diamond net', makeRecipe('weave', size), 1500],
  ['wire cloth, 40 × 40', makeRecipe('weave', { ...size, pattern: 'wire cloth', pitch: 25 }), 1500],
  ['chain wire', makeRecipe('weave', { ...size, pattern: 'chain wire' }), 1500],
  ['wattle', makeRecipe('weave', { ...size, pattern: 'wattle', pitch: 160, thick: 22, long: 30 }), 1500],
  ['perforated sheet', makeRecipe('weave', { ...size, pattern: 'round holes, staggered', pitch: 20, thick: 12 }), 1500],
];

const RACES: Race[] = RECIPES.flatMap(([name, recipe, wanted]) => {
  const svg = asSvg(recipe);
  return [
    {
      name: `${name}, colour`,
      ours: () => grow(recipe, 1, false),
      wanted,
      other: 'librsvg',
      theirs: () => sharp(svg, { unlimited: true }).raw().toBuffer(),
    },
    { name: `${name}, all maps`, ours: () => grow(recipe, 1, true), wanted: 2 * wanted },
    { name: `${name}, 512², first answer`, ours: () => grow(recipe, VIEW, false, true), wanted: 100 },
    { name: `${name}, 512², all maps`, ours: () => grow(recipe, VIEW, true) },
  ];
});

sharp.concurrency(1);
const only = process.argv.slice(2);
console.log(`${SIDE}², one thread of ours; medians in ms\n`);
await runRaces(only.length ? RACES.filter(({ name }) => only.some((part) => name.includes(part))) : RACES, 6);
