import { createHash } from 'node:crypto';
import { makeRecipe, packAtlas, writePng, type Picture, type Recipe, type RecipePart } from '@lithe-sieve/core';
import { DEMO_ATLASES, DEMO_PIECES, type DemoAtlas } from '@lithe-sieve/demo';
import { deflateInStrips } from '@lithe-sieve/host';
import type { DrawDemoTask, DrawnDemo } from './tasks.ts';

/** @returns what is drawn; atlases come after the pieces. */
export async function drawDemo({ index }: DrawDemoTask): Promise<DrawnDemo> {
  if (index >= DEMO_PIECES.length) return packDemo(DEMO_ATLASES[index - DEMO_PIECES.length]());
  const { name, cardWidth, files, more } = DEMO_PIECES[index]();
  let steps = 0;
  const written: DrawnDemo['files'] = [];
  for (const { fileName, raster } of files) written.push({ fileName, bytes: await writePng(raster, deflateInStrips) });
  return { name, cardWidth, files: written, more: more?.(() => `demo-step-${steps++}`) ?? [] };
}

async function packDemo({ name, cardWidth, width, height, set, parts: drawn }: DemoAtlas): Promise<DrawnDemo> {
  const files: DrawnDemo['files'] = [];
  const pictures = new Map<string, Picture>();
  const store = (fileName: string, bytes: Uint8Array) => {
    files.push({ fileName, bytes });
    return createHash('sha256').update(bytes).digest('hex');
  };
  const parts: RecipePart[] = [];
  for (const [k, { part, ...said }] of drawn.entries()) {
    const { picture, relief, maps } = part;
    const sha256 = store('part.png', await writePng(picture, deflateInStrips));
    pictures.set(sha256, picture);
    const own = relief && { relief: store('part, maps.png', await writePng(relief, deflateInStrips)), maps };
    const { width: wide, height: tall } = picture;
    parts.push({ sha256, width: wide, height: tall, piece: `demo-part-${k}`, revision: 0, ...said, ...own });
  }
  const recipe = { ...makeRecipe('atlas', { width, height }), parts } as Extract<Recipe, { kind: 'atlas' }>;
  const how = { pictureOf: (part: string) => pictures.get(part), keep: false, checkpoint: () => undefined };
  recipe.params.placed = packAtlas(recipe, how).placed;
  return { name, cardWidth, files, more: [], recipe, set };
}
