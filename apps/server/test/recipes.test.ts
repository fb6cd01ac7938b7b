import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { recipeSchema } from '@lithe-sieve/contract';
import {
  grownPiece,
  makeRecipe,
  recipeKey,
  STARTING_POINTS,
  type PieceDoc,
  type Recipe,
  type RecipePart,
} from '@lithe-sieve/core';
import sharp from 'sharp';
import { startServer, type TestServer } from './helpers.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startServer();
}, 60_000);
afterAll(() => server.stop());

let ids = 0;
const makeId = () => `made-${String(ids++).padStart(6, '0')}`;
const docOf = (recipe: Recipe): PieceDoc => grownPiece({ name: 'Grown', recipe, cardWidth: 1 }, makeId);
const post = (doc: unknown) => server.call('POST', '/api/pieces/copies', { doc });

test('a piece is grown, listed with what it keeps, and changed like any other', async () => {
  const recipe = makeRecipe('tuft', { width: 128, height: 256, blades: 40 });
  const { id } = (await post(docOf(recipe))).json;
  const { doc, facts } = (await server.call('GET', `/api/pieces/${id}`)).json;
  expect(doc.sources[0].recipe).toEqual(recipe);
  expect(facts[recipeKey(recipe)]).toMatchObject({ format: 'recipe', width: 128, height: 256, alpha: 'present' });
  const listed = async () => {
    const { pieces } = (await server.call('GET', '/api/pieces')).json;
    return pieces.find((p: { id: string }) => p.id === id);
  };
  for (let k = 0; k < 100 && !(await listed()).fresh; k++) await new Promise((resolve) => setTimeout(resolve, 100));
  expect(await listed()).toMatchObject({ width: 128, height: 256, problem: null, fresh: true });
  expect((await listed()).coverage).toBeGreaterThan(0.05);
});

test('every starting point is a recipe as the contract has it', () => {
  for (const { recipe } of STARTING_POINTS) expect(recipeSchema.parse(recipe)).toEqual(recipe);
});

test('a recipe that cannot be grown is refused in a sentence, and nothing is written', async () => {
  const recipe = makeRecipe('tuft');
  const before = (await server.call('GET', '/api/pieces')).json.total;
  const refused = async (change: (r: Recipe) => object, key = true) => {
    const doc = docOf(recipe);
    const changed = change(recipe) as Recipe;
    doc.sources[0] = { ...doc.sources[0], recipe: changed, ...(key ? { sha256: recipeKey(changed) } : {}) };
    const answer = await post(doc);
    expect(answer.status).toBe(422);
    return JSON.stringify(answer.json);
  };
  expect(await refused((r) => ({ ...r, version: 99 }))).toContain('newer');
  expect(await refused((r) => ({ ...r, seed: 7 }), false)).toContain('key of a source');
  await refused((r) => ({ ...r, params: { ...r.params, blades: 100_000 } }));
  await refused((r) => ({ ...r, params: { ...r.params, lean: null } })); // what NaN becomes in JSON
  await refused((r) => ({ ...r, width: 100_000 }));
  await refused((r) => ({ ...r, kind: 'pond' }));
  await refused((r) => ({ ...r, params: { ...r.params, more: 1 } }));
  expect((await server.call('GET', '/api/pieces')).json.total).toBe(before);
});

test('a part is a copy of its own: kept though its piece is deleted, refused where its file is not here', async () => {
  const png = await sharp({ create: { width: 8, height: 16, channels: 4, background: '#4a6a2a' } })
    .png()
    .toBuffer();
  const { sha256 } = (await server.call('POST', '/api/sources?name=part.png', png)).json;
  const part: RecipePart = { sha256, name: 'Leaf', width: 8, height: 16, piece: 'gone-piece', revision: 1 };
  const recipe: Recipe = { ...makeRecipe('spray', { width: 64, height: 64 }), parts: [part] };
  const { id } = (await post(docOf(recipe))).json;
  await server.app.studio.tidy();
  expect((await server.call('GET', `/api/sources/${sha256}/facts`)).status).toBe(200);
  const { pieces } = (await server.call('GET', '/api/pieces')).json;
  expect(pieces.find((p: { id: string }) => p.id === id).problem).toBeNull();
  const missing = docOf({ ...recipe, parts: [{ ...part, sha256: 'a'.repeat(64) }] });
  const answer = await post(missing);
  expect([answer.status, answer.json.message]).toEqual([422, 'The file of the part Leaf is not in the studio.']);
});
