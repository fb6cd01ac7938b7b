import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { grownPiece, makeRecipe, standingMesh, unpackMesh, type PieceDoc } from '@lithe-sieve/core';
import { leafMeshObj } from '@lithe-sieve/demo';
import { glbTools } from '@lithe-sieve/host/glb';
import { unzipSync } from 'fflate';
import { startServer, type TestServer } from './helpers.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startServer();
}, 60_000);
afterAll(() => server.stop());

const obj = new TextEncoder().encode(leafMeshObj());
const send = (name: string, bytes: Uint8Array) => server.call('POST', `/api/sources/meshes?name=${name}`, bytes);
let ids = 0;
const newPiece = async (change: Partial<PieceDoc>) => {
  const recipe = makeRecipe('tuft', { width: 64, height: 64, blades: 12 });
  const doc = {
    ...grownPiece({ name: 'Grown', recipe, cardWidth: 1 }, () => `made-${String(ids++).padStart(6, '0')}`),
    ...change,
  };
  return server.call('POST', '/api/pieces/copies', { doc });
};

test('a mesh is kept byte for byte, said to pages, copied out, and handed off with the piece on it', async () => {
  const stored = (await send('leaf.obj', obj)).json;
  expect(stored).toMatchObject({
    fileName: 'leaf.obj',
    bytes: obj.length,
    facts: { kind: 'mesh', format: 'obj', triangles: 224 },
  });
  expect(new Uint8Array((await server.call('GET', `/api/sources/${stored.sha256}/bytes`)).bytes)).toEqual(obj);
  expect((await server.call('GET', `/api/sources/${stored.sha256}/picture.png`)).status).toBe(200);
  const { bytes } = await server.call('GET', `/api/sources/${stored.sha256}/mesh`);
  const { mesh, facts } = unpackMesh(new Uint8Array(bytes));
  expect(facts).toEqual(stored.facts);

  const own = { sha256: stored.sha256, fileName: 'leaf.obj', metres: 0.01, up: 'z' as const };
  const { id } = (await newPiece({ mesh: own })).json;
  // the Stock counts what the Bench will say: 12 units of centimetres, read as kilometres
  const { id: huge } = (await newPiece({ mesh: { ...own, metres: 1000 } })).json;
  const snagsOf = async (piece: string) => {
    const { pieces } = (await server.call('GET', '/api/pieces')).json;
    const found = pieces.find((p: { id: string }) => p.id === piece);
    return found.fresh ? (found.snags as string[]) : null;
  };
  for (let k = 0; k < 200 && (!(await snagsOf(id)) || !(await snagsOf(huge))); k++) await new Promise((resolve) => setTimeout(resolve, 50)); // prettier-ignore
  expect((await snagsOf(huge))!.filter((s) => s.includes('its unit is another one'))).toHaveLength(1);
  expect((await snagsOf(id))!.filter((s) => s.includes('its unit is another one'))).toEqual([]);

  const zip = unzipSync(new Uint8Array((await server.call('GET', `/api/pieces/${id}/salvage.zip`)).bytes));
  expect(Object.keys(zip).some((name) => name.startsWith(`sources/${stored.sha256}`))).toBe(true);
  const { id: job } = (await server.call('POST', `/api/pieces/${id}/hand-offs`, { revision: 1 })).json;
  const stateOf = async () => (await server.call('GET', `/api/jobs/${job}`)).json;
  let state = await stateOf();
  for (let k = 0; k < 300 && !['done', 'failed'].includes(state.state); k++) {
    await new Promise((resolve) => setTimeout(resolve, 100));
    state = await stateOf();
  }
  expect([state.error, state.report?.checks.filter((c: { ok: boolean }) => !c.ok)]).toEqual([null, []]);
  const files = unzipSync(new Uint8Array((await server.call('GET', `/api/jobs/${job}/all.zip`)).bytes));
  const [, glb] = Object.entries(files).find(([name]) => name.endsWith('.glb'))!;
  expect((await glbTools.read(glb)).mesh.positions).toEqual(standingMesh(mesh, own).mesh.positions);
});

test('what is no mesh, and what names one that is not there, is refused in a sentence; a picture’s place takes no mesh', async () => {
  const refused = async (bytes: Uint8Array, to = '/api/sources/meshes') => {
    const { status, json } = await server.call('POST', `${to}?name=x.obj`, bytes);
    expect(status).toBe(422);
    return `${json.message} ${json.remedy}`;
  };
  expect(await refused(new Uint8Array(100))).toContain('no mesh');
  expect(await refused(new TextEncoder().encode('v 0 0 0\nf 1 2 3\n'))).toContain('Line 2 of the OBJ names 2 of 1');
  expect(await refused(new TextEncoder().encode('glTF and nothing else'))).toContain('cannot be read');
  expect(await refused(obj, '/api/sources')).toContain('Card tray');
  const missing = await newPiece({ mesh: { sha256: 'a'.repeat(64), fileName: 'gone.glb', metres: 1, up: 'y' } });
  expect([missing.status, missing.json.message]).toEqual([422, expect.stringContaining('gone.glb')]);
});
