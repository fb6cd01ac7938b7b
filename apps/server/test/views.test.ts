import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { MOST_VIEWS, type NamedView } from '@lithe-sieve/contract';
import { makeStep, PACKING_AT_FIRST, PIECE_DEFAULTS, SKY_LIGHTS, TARGET_AT_FIRST } from '@lithe-sieve/core';
import sharp from 'sharp';
import { startServer, type TestServer } from './helpers.ts';

let folder: string;
let server: TestServer;
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'lithe-sieve-views-'));
  server = await startServer(folder, true);
});
afterEach(async () => {
  await server.stop();
  rmSync(folder, { recursive: true, force: true });
});

const LOOK: NamedView['look'] = {
  azimuth: 0.4,
  elevation: 0.1,
  distance: 2.5,
  fieldOfView: 34,
  sky: 'clear',
  light: SKY_LIGHTS.clear,
  behind: { kind: 'things', things: 'hurdle' },
  copies: 1,
};
const view = (n: number, look: object = {}) => ({ id: `view-${n}-00000000`, name: `View ${n}`, look: { ...LOOK, ...look } }); // prettier-ignore
const call = async (method: string, path: string, body?: unknown) => server.call(method, `/api/views${path}`, body);
const names = async () => (await call('GET', '')).json.views.map((v: NamedView) => v.name);

test('views are kept in their order, once each, renamed, deleted, put back; a hundred are enough', async () => {
  expect((await call('POST', '', view(1))).json.views).toEqual([view(1)]);
  await call('POST', '', view(1)); // its answer was lost
  await call('POST', '', view(2));
  await call('PUT', '/view-1-00000000/name', { name: ' Near the water ' });
  expect(await names()).toEqual(['Near the water', 'View 2']);
  await call('DELETE', '/view-2-00000000');
  expect((await call('DELETE', '/view-2-00000000')).status).toBe(200);
  expect((await call('PUT', '/view-2-00000000/name', { name: 'x' })).status).toBe(404);
  for (let n = 2; n <= MOST_VIEWS; n++) await call('POST', '', view(n));
  const one = await call('POST', '', view(999));
  expect([one.status, one.json.code, (await names()).length]).toEqual([422, 'too-many', MOST_VIEWS]);
});

test.each([
  ['a sky without a name', { sky: '' }],
  ['no distance', { distance: 0 }],
  ['a light beyond its range', { light: { ...SKY_LIGHTS.clear, warmth: 1 } }],
  ['something else behind', { behind: { kind: 'colour', colour: [1, 2, 300] } }],
  ['more than it has', { other: 1 }],
])('%s is refused in words, and nothing is kept', async (_, look) => {
  const answer = await call('POST', '', view(1, look));
  expect([answer.status, typeof answer.json.message, await names()]).toEqual([400, 'string', []]);
});

test('a damaged view leaves the others; the photograph that a view shows is not let go, and comes as large as a screen', async () => {
  const picture = { create: { width: 3000, height: 600, channels: 3 as const, background: '#406080' } };
  const photograph = await sharp(picture).jpeg().toBuffer();
  const { sha256 } = (await server.call('POST', '/api/sources?name=meadow.jpg', photograph)).json;
  await call('POST', '', view(1, { behind: { kind: 'photograph', sha256, name: 'meadow.jpg' } }));
  await call('POST', '', view(2));
  await server.db.write((m) => m.query(`UPDATE stand_view SET look = '{"azimuth":' WHERE id = ?`, [view(2).id]));
  expect((await call('GET', '')).json).toMatchObject({ views: [{ name: 'View 1' }], damaged: 1 });
  const old = new Date(Date.now() - 60 * 86_400_000).toISOString();
  await server.db.write((m) => m.query('UPDATE source_file SET "createdAt" = ?, "unnamedSince" = ?', [old, old]));
  await server.app.studio.tidy();
  const { status, bytes } = await server.call('GET', `/api/sources/${sha256}/view.png`);
  const { width, height } = await sharp(bytes).metadata();
  expect([status, width <= 2048, Math.round(width / height)]).toEqual([200, true, 5]);
});

test('profiles are kept as views are, beside them; what is none, or is damaged, costs no other', async () => {
  const profile = { packing: PACKING_AT_FIRST, target: TARGET_AT_FIRST, pattern: '{map}', green: 'OpenGL' };
  const named = (n: number, more: object = {}) => ({ id: `profile-${n}-000000`, name: `P${n}`, profile: { ...profile, ...more } }); // prettier-ignore
  const profiles = (method: string, body?: unknown) => server.call(method, '/api/profiles', body);
  await profiles('POST', named(1));
  expect((await profiles('POST', named(2, { green: 'left' }))).status).toBe(400);
  expect((await profiles('POST', named(3))).json.profiles.map((p: { name: string }) => p.name)).toEqual(['P1', 'P3']);
  await server.db.write((m) => m.query(`UPDATE kept_profile SET profile = '{' WHERE name = 'P1'`));
  expect((await profiles('GET')).json).toMatchObject({ profiles: [named(3)], damaged: 1 });
  expect(await names()).toEqual([]);
});

test('starts are kept with their picture; of an earlier form they are read as documents are, and no address is a picture', async () => {
  const picture = 'data:image/png;base64,iVBORw0KGgo=';
  const doc = { ...PIECE_DEFAULTS, name: 'Leaf', sources: [], run: [makeStep('step-1-000000', 'from-backdrop')] };
  const named = (n: number, start: object) => ({ id: `start-${n}-0000000`, name: `S${n}`, start });
  const starts = (method: string, body?: unknown) => server.call(method, '/api/starts', body);
  expect((await starts('POST', named(1, { doc, picture }))).json.starts).toMatchObject([{ name: 'S1', start: { picture } }]); // prettier-ignore
  expect((await starts('POST', named(2, { doc, picture: 'https://example.org/a.png' }))).status).toBe(400);
  await server.db.write((m) => m.query(`UPDATE kept_start SET start = json_set(start, '$.doc.schema', 12)`));
  const [kept] = (await starts('GET')).json.starts;
  expect(kept.start.doc).toMatchObject({ schema: PIECE_DEFAULTS.schema, run: doc.run });
  await server.db.write((m) => m.query(`UPDATE kept_start SET start = '{'`));
  expect((await starts('GET')).json).toEqual({ starts: [], damaged: 1 });
});
