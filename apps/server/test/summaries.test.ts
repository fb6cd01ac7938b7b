import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { declaredSize, grownPiece, makeRecipe, makeStep, type Recipe } from '@lithe-sieve/core';
import { startServer, type TestServer } from './helpers.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startServer();
}, 60_000);
afterAll(() => server.stop());

let ids = 0;
const post = async (recipe: Recipe): Promise<string> => {
  const doc = grownPiece({ name: 'Grown', recipe, cardWidth: 1 }, () => `made-${String(ids++).padStart(6, '0')}`);
  return (await server.call('POST', '/api/pieces/copies', { doc })).json.id;
};
const listed = async (id: string) =>
  (await server.call('GET', '/api/pieces')).json.pieces.find((p: { id: string }) => p.id === id);
async function until(done: () => Promise<boolean>): Promise<void> {
  for (let k = 0; k < 200 && !(await done()); k++) await new Promise((resolve) => setTimeout(resolve, 50));
}
const rename = (id: string, baseRevision: number) =>
  server.call('POST', `/api/pieces/${id}/edits`, {
    kind: 'do',
    baseRevision,
    entry: {
      label: 'Name',
      patches: [{ op: 'replace', path: ['name'], value: 'Grown again' }],
      inverse: [{ op: 'replace', path: ['name'], value: 'Grown' }],
    },
  });
const begun = (id: string) =>
  server.db.read((m) => m.query<{ summary: string }[]>('SELECT summary FROM piece WHERE id = ?', [id]));

const small = makeRecipe('tuft', { width: 64, height: 64, blades: 5 });
/** More than a million shapes: several seconds. */
const slow = makeRecipe('weave', { across: 20000, seamless: true, width: 64, height: 64 });

test('a piece whose picture ended the server three times shows why, alone, until it is changed', async () => {
  const [id, other] = [await post(small), await post({ ...small, seed: 2 })];
  const summary = JSON.stringify({ coverage: null, snags: [], begun: { revision: 1, times: 3 } });
  await server.db.write((m) => m.query('UPDATE piece SET summary = ? WHERE id = ?', [summary, id]));
  await until(async () => (await listed(id)).fresh && (await listed(other)).fresh);
  expect((await listed(id)).problem).toMatchObject({ code: 'tried-too-often', remedy: expect.stringMatching(/^Open the piece/) }); // prettier-ignore
  expect((await listed(other)).problem).toBeNull();
  expect((await rename(id, 1)).status).toBe(200);
  await until(async () => (await listed(id)).fresh);
  expect(await listed(id)).toMatchObject({ problem: null, fresh: true });
}, 30_000);

test('what is computed of a piece ends soon after the piece is deleted', async () => {
  const id = await post(slow);
  await listed(id);
  await until(async () => Boolean((await begun(id))[0].summary)); // it is under way
  const started = performance.now();
  await server.call('DELETE', `/api/pieces/${id}`);
  await until(() => Promise.resolve(server.app.summaries.computing === 0));
  expect(performance.now() - started).toBeLessThan(4000);
  expect(JSON.parse((await begun(id))[0].summary).begun.times).toBe(0); // no failed try
}, 30_000);

test('of a piece that is trimmed to a speck of its small copy, the picture is made of a larger one', async () => {
  const blades = { blades: 20, fromX: 0.47, toX: 0.53, envelope: [0.14], lean: 0, leanSpread: 3, bendTo: 10 };
  const recipe = makeRecipe('tuft', { width: 1024, height: 1024, ...blades });
  const doc = grownPiece({ name: 'Small', recipe, cardWidth: 1 }, () => `made-${String(ids++).padStart(6, '0')}`);
  const trimmed = { ...doc, run: [...doc.run, makeStep(`made-${String(ids++).padStart(6, '0')}`, 'trim')] };
  const { id } = (await server.call('POST', '/api/pieces/copies', { doc: trimmed })).json;
  await until(async () => (await listed(id)).fresh);
  const { width, height } = await listed(id);
  const { bytes } = await server.call('GET', `/api/pieces/${id}/picture.png`);
  const picture = declaredSize(bytes);
  expect(Math.max(width, height)).toBeLessThan(256);
  expect([picture.width, picture.height]).toEqual([width, height]); // one texel for each, where copies have half as many
}, 30_000);

test('who holds a copy of a piece is said when it is deleted', async () => {
  const [id, user] = [await post(small), await post({ ...small, seed: 9 })];
  const { doc } = (await server.call('GET', `/api/pieces/${user}`)).json;
  const cut = makeStep('made-cut', 'cut-by-piece', { of: { piece: id, name: 'Grown', revision: 1 } });
  await server.call('POST', '/api/pieces/copies', { doc: { ...doc, name: 'Cut cloth', run: [cut] } });
  expect((await server.call('DELETE', `/api/pieces/${id}`)).json).toEqual({ usedBy: ['Cut cloth'] });
  expect((await server.call('DELETE', `/api/pieces/${user}`)).json).toEqual({ usedBy: [] });
});
