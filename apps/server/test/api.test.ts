import { randomBytes } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { makeStep } from '@lithe-sieve/core';
import { drawCordgrass, drawLeafScan } from '@lithe-sieve/demo';
import sharp from 'sharp';
import { startServer, type TestServer } from './helpers.ts';

let server: TestServer;
const asPng = ({
  width,
  height,
  channels,
  data,
}: {
  width: number;
  height: number;
  channels: number;
  data: Uint8Array;
}) =>
  sharp(data, { raw: { width, height, channels: channels as 3 } })
    .png()
    .toBuffer();
let leaf: Uint8Array;
let grass: Uint8Array;

beforeAll(async () => {
  server = await startServer();
  leaf = await asPng(drawLeafScan(4, 96).colour);
  grass = await asPng(drawCordgrass(4, 96).colour);
}, 60_000);
afterAll(() => server.stop());

const upload = (name: string, bytes: Uint8Array) =>
  server.call('POST', `/api/sources?name=${encodeURIComponent(name)}`, bytes);
async function newPiece(name = 'Leaf', bytes = leaf): Promise<string> {
  const { json } = await upload('leaf.png', bytes);
  return (await server.call('POST', '/api/pieces', { name, sources: [{ sha256: json.sha256, fileName: 'leaf.png' }] }))
    .json.id;
}
const replaceName = (from: string, to: string) => ({
  label: 'Rename',
  patches: [{ op: 'replace', path: ['name'], value: to }],
  inverse: [{ op: 'replace', path: ['name'], value: from }],
});

test('a document from before a parameter came is opened with its default, and can be edited', async () => {
  const id = await newPiece('Old');
  const [{ doc }] = await server.db.source.query('SELECT doc FROM piece WHERE id = ?', [id]);
  const old = JSON.parse(doc);
  for (const name of ['metric', 'reach', 'from']) delete old.run[0].params[name];
  await server.db.source.query('UPDATE piece SET doc = ? WHERE id = ?', [JSON.stringify(old), id]);
  const opened = await server.call('GET', `/api/pieces/${id}`);
  expect(opened.json.doc).toEqual(JSON.parse(doc));
  const edit = { kind: 'do', baseRevision: opened.json.revision, entry: replaceName('Old', 'New') };
  expect((await server.call('POST', `/api/pieces/${id}/edits`, edit)).status).toBe(200);
});

describe('bringing in', () => {
  test('says what the file holds, and gives its bytes back unchanged', async () => {
    const { status, json } = await upload('sub/leaf.png', leaf);
    expect(status).toBe(200);
    expect(json).toMatchObject({
      fileName: 'leaf.png',
      facts: { format: 'png', width: 96, channels: 3, bitDepth: 8, alpha: 'none' },
    });
    const back = await server.call('GET', `/api/sources/${json.sha256}/bytes`);
    expect(Buffer.compare(back.bytes, Buffer.from(leaf))).toBe(0);
  });

  test('the same file twice is stored once, in chunks of a megabyte', async () => {
    const noise = randomBytes(700 * 700 * 3);
    const big = await sharp(noise, { raw: { width: 700, height: 700, channels: 3 } })
      .png()
      .toBuffer();
    expect(big.length).toBeGreaterThan(1 << 20);
    expect((await upload('one.png', big)).json.known).toBe(false);
    const again = await upload('two.png', big);
    expect(again.json.known).toBe(true);
    const rows: { n: number }[] = await server.db.source.query(
      'SELECT count(*) AS n FROM blob_chunk WHERE sha256 = ?',
      [again.json.sha256],
    );
    expect(rows[0].n).toBe(Math.ceil(big.length / (1 << 20)));
    const back = await server.call('GET', `/api/sources/${again.json.sha256}/bytes`);
    expect(Buffer.compare(back.bytes, big)).toBe(0);
  });

  test('reads JPEG here with the decoder of the browser', async () => {
    const bytes = await sharp(leaf).jpeg({ quality: 90 }).toBuffer();
    const { json } = await upload('leaf.jpg', bytes);
    expect(json.facts).toMatchObject({
      format: 'jpeg',
      alpha: 'none',
      notes: expect.arrayContaining(['JPEG carries no alpha.']),
    });
  });

  test.each([
    ['empty.png', new Uint8Array(0), 'empty-file'],
    ['notes.txt', new TextEncoder().encode('no picture at all, only words in a row'), 'unknown-format'],
  ])('%s is refused with its name and the reason', async (name, bytes, code) => {
    const { status, json } = await upload(name, bytes);
    expect([status, json.code]).toEqual([422, code]);
    expect(json.message).toContain(name);
  });

  test('a cut, a damaged and a huge one leave no row behind', async () => {
    const count = async () => {
      const sql = 'SELECT (SELECT count(*) FROM blob_chunk) + (SELECT count(*) FROM source_file) AS n';
      const rows: { n: number }[] = await server.db.source.query(sql);
      return rows[0].n;
    };
    const before = await count();
    const damaged = Uint8Array.from(leaf);
    damaged[damaged.length >> 1] ^= 0xff;
    const huge = Uint8Array.from(leaf);
    new DataView(huge.buffer).setUint32(16, 60_000); // width, and the checksum no longer fits either
    for (const [name, bytes, codes] of [
      ['cut.png', leaf.subarray(0, 900), ['truncated']],
      ['damaged.png', damaged, ['corrupt']],
      ['huge.png', huge, ['corrupt', 'too-large']],
    ] as [string, Uint8Array, string[]][]) {
      const { json } = await upload(name, bytes);
      expect(codes).toContain(json.code);
      expect(json.message).toContain(name);
    }
    expect(await count()).toBe(before);
  });

  test('a body over the limit is refused by its declared length, before it is read', async () => {
    const { status, json } = await server.call('POST', '/api/sources?name=x.png', undefined, {
      'Content-Length': String(600 * 1024 * 1024),
    });
    expect([status, json.code]).toEqual([413, 'too-large']);
  });
});

describe('pieces', () => {
  test('start with the run that fits, and are listed with picture and coverage', async () => {
    const id = await newPiece('Listed leaf');
    const { json } = await server.call('GET', `/api/pieces/${id}`);
    expect(json.doc.run.map((s: { kind: string }) => s.kind)).toEqual(['from-colour', 'bleed']);
    await server.call('GET', `/api/pieces/${id}/picture.png`); // a list does not wait for what is computed
    const list = await server.call('GET', '/api/pieces');
    const mine = list.json.pieces.find((p: { id: string }) => p.id === id);
    expect(mine).toMatchObject({ name: 'Listed leaf', width: 96, mode: 'mask', snags: [] });
    expect(mine.coverage).toBeGreaterThan(0.15);
    const picture = await server.call('GET', `/api/pieces/${id}/picture.png`);
    expect((await sharp(picture.bytes).metadata()).hasAlpha).toBe(true);
  });

  test('threads finer than the small picture do not vanish from it', async () => {
    const [width, height] = [2048, 1024];
    const data = Buffer.alloc(4 * width * height, 200);
    for (let i = 0; i < width * height; i++) data[4 * i + 3] = i % 9 === 0 ? 255 : 0;
    const png = await sharp(data, { raw: { width, height, channels: 4 } })
      .png({ compressionLevel: 1 })
      .toBuffer();
    const id = await newPiece('Threads', png);
    const { bytes } = await server.call('GET', `/api/pieces/${id}/picture.png`);
    const { channels } = await sharp(bytes).stats();
    expect(Math.abs(channels[3].mean / 255 - 1 / 9)).toBeLessThan(0.02);
  });

  test('an edit, its undo and its redo; history survives', async () => {
    const id = await newPiece('First');
    const edit = (body: object) => server.call('POST', `/api/pieces/${id}/edits`, body);
    expect((await edit({ kind: 'do', baseRevision: 1, entry: replaceName('First', 'Second') })).json).toEqual({
      revision: 2,
      position: 1,
    });
    expect((await edit({ kind: 'undo', baseRevision: 2 })).json).toEqual({ revision: 3, position: 0 });
    const undone = (await server.call('GET', `/api/pieces/${id}`)).json;
    expect([undone.doc.name, undone.history.length, undone.position]).toEqual(['First', 1, 0]);
    expect((await edit({ kind: 'redo', baseRevision: 3 })).json.revision).toBe(4);
    expect((await server.call('GET', `/api/pieces/${id}`)).json.doc.name).toBe('Second');
    expect((await edit({ kind: 'redo', baseRevision: 4 })).json.code).toBe('no-history');
    await edit({ kind: 'undo', baseRevision: 4 });
    await edit({ kind: 'do', baseRevision: 5, entry: replaceName('First', 'Third') });
    expect((await edit({ kind: 'redo', baseRevision: 6 })).json.code).toBe('no-history'); // a new edit ends the redo
  });

  test('an edit on an old revision is refused and nothing changes', async () => {
    const id = await newPiece('Mine');
    const edit = (to: string) =>
      server.call('POST', `/api/pieces/${id}/edits`, { kind: 'do', baseRevision: 1, entry: replaceName('Mine', to) });
    const [a, b] = await Promise.all([edit('A'), edit('B')]);
    expect([a.status, b.status].sort()).toEqual([200, 409]);
    const { json } = await server.call('GET', `/api/pieces/${id}`);
    expect(json.doc.name).toBe(a.status === 200 ? 'A' : 'B');
    expect([a, b].find((r) => r.status === 409)!.json.code).toBe('stale-revision');
  });

  test.each([
    [
      'a value out of range',
      [{ op: 'replace', path: ['material', 'cutoff'], value: 7 }],
      [{ op: 'replace', path: ['material', 'cutoff'], value: 0.5 }],
    ],
    ['a path into nothing', [{ op: 'replace', path: ['run', 99, 'on'], value: true }], []],
    ['a prototype', [{ op: 'replace', path: ['__proto__', 'polluted'], value: 1 }], []],
    [
      'a reverse that does not fit',
      [{ op: 'replace', path: ['cardWidth'], value: 2 }],
      [{ op: 'replace', path: ['cardWidth'], value: 3 }],
    ],
    [
      'a source that was never brought in',
      [{ op: 'replace', path: ['sources', 0, 'sha256'], value: 'f'.repeat(64) }],
      null,
    ],
  ])('refuses %s', async (_, patches, inverse) => {
    const id = await newPiece();
    const { doc } = (await server.call('GET', `/api/pieces/${id}`)).json;
    const back = inverse ?? [{ op: 'replace', path: ['sources', 0, 'sha256'], value: doc.sources[0].sha256 }];
    const answer = await server.call('POST', `/api/pieces/${id}/edits`, {
      kind: 'do',
      baseRevision: 1,
      entry: { label: 'x', patches, inverse: back },
    });
    expect(answer.status).toBe(422); // never to be sent again
    expect((await server.call('GET', `/api/pieces/${id}`)).json.revision).toBe(1);
  });

  test('deleting can be undone; copying keeps the document', async () => {
    const id = await newPiece('Gone');
    expect((await server.call('DELETE', `/api/pieces/${id}`)).json).toEqual({ usedBy: [] });
    expect((await server.call('GET', `/api/pieces/${id}`)).status).toBe(404);
    await server.call('POST', `/api/pieces/${id}/restore`);
    const { doc } = (await server.call('GET', `/api/pieces/${id}`)).json;
    const copy = await server.call('POST', '/api/pieces/copies', { doc: { ...doc, name: 'Copy' } });
    expect((await server.call('GET', `/api/pieces/${copy.json.id}`)).json.doc).toEqual({ ...doc, name: 'Copy' });
  });
});

describe('hand-off', () => {
  async function handOff(id: string, body: object = { revision: 1 }) {
    let job = (await server.call('POST', `/api/pieces/${id}/hand-offs`, body)).json;
    for (let i = 0; i < 200 && ['waiting', 'running'].includes(job.state); i++) {
      await new Promise((resolve) => setTimeout(resolve, 50));
      job = (await server.call('GET', `/api/jobs/${job.id}`)).json;
    }
    return job;
  }

  test('writes colour and mask that libpng reads as the run says', async () => {
    const { json } = await upload('grass.png', grass);
    const { id } = (
      await server.call('POST', '/api/pieces', {
        name: 'Gras “é”',
        sources: [{ sha256: json.sha256, fileName: 'grass.png' }],
      })
    ).json;
    const { doc } = (await server.call('GET', `/api/pieces/${id}`)).json;
    const entry = {
      label: 'Profile',
      patches: [{ op: 'replace', path: ['handOff', 'profile'], value: 'rgb-and-mask' }],
      inverse: [{ op: 'replace', path: ['handOff', 'profile'], value: doc.handOff.profile }],
    };
    await server.call('POST', `/api/pieces/${id}/edits`, { kind: 'do', baseRevision: 1, entry });
    const job = await handOff(id, { revision: 2 });
    expect(job).toMatchObject({ state: 'done', report: { ok: true } });
    expect(job.report.files.map((f: { name: string }) => f.name)).toEqual(['Gras-e_base.png', 'Gras-e_mask.png']);
    const mask = await server.call('GET', `/api/jobs/${job.id}/files/1`);
    const drawn = drawCordgrass(4, 96);
    const { data, info } = await sharp(mask.bytes).toColourspace('b-w').raw().toBuffer({ resolveWithObject: true });
    expect([info.channels, Buffer.compare(data, Buffer.from(drawn.mask.data))]).toEqual([1, 0]);
    expect(mask.headers['content-disposition']).toContain('Gras-e_mask.png');
    expect((await server.call('GET', `/api/jobs/${job.id}/all.zip`)).bytes.subarray(0, 2).toString()).toBe('PK');
    expect((await server.call('GET', `/api/jobs/${job.id}/files/7`)).status).toBe(404);
  });

  test('says so when the Bench shows something else', async () => {
    const job = await handOff(await newPiece(), {
      revision: 1,
      bench: { colour: '0'.repeat(16), mask: '0'.repeat(16) },
    });
    expect(job.report.ok).toBe(false);
    expect(job.report.checks.filter((c: { ok: boolean }) => !c.ok).map((c: { what: string }) => c.what)).toEqual([
      'picture as shown',
      'mask as shown',
    ]);
  });

  test('a step that cannot be done fails with the reason; an old revision does not start', async () => {
    const id = await newPiece();
    const step = makeStep('broken-step', 'from-channel', { sourceId: 'not-there' });
    const entry = {
      label: 'x',
      patches: [{ op: 'add', path: ['run', 2], value: step }],
      inverse: [{ op: 'replace', path: ['run', 'length'], value: 2 }],
    };
    expect((await server.call('POST', `/api/pieces/${id}/edits`, { kind: 'do', baseRevision: 1, entry })).status).toBe(
      200,
    );
    expect(await handOff(id, { revision: 2 })).toMatchObject({
      state: 'failed',
      error: { message: expect.stringContaining('no longer in the piece') },
    });
    expect((await server.call('POST', `/api/pieces/${id}/hand-offs`, { revision: 1 })).json.code).toBe(
      'stale-revision',
    );
  });

  test('can be cancelled, and leaves no files', async () => {
    const { id: job } = (await server.call('POST', `/api/pieces/${await newPiece()}/hand-offs`, { revision: 1 })).json;
    expect((await server.call('DELETE', `/api/jobs/${job}`)).json.state).toBe('cancelled');
    await new Promise((resolve) => setTimeout(resolve, 300));
    expect((await server.call('GET', `/api/jobs/${job}`)).json).toMatchObject({ state: 'cancelled', report: null });
  });
});

describe('who is answered', () => {
  const status = async (headers: Record<string, string>, path = '/api/pieces') =>
    (await server.call('GET', path, undefined, headers)).status;

  test('its own pages and names, no other origin, no other host name', async () => {
    expect(await status({})).toBe(200);
    expect(await status({ Host: 'studio.test:80', Origin: 'http://studio.test:80' })).toBe(200);
    expect(await status({ Host: 'evil.test' })).toBe(403);
    expect(await status({ Origin: 'http://evil.test' })).toBe(403);
    expect(await status({ Origin: 'null' })).toBe(403);
    expect(await status({ 'Sec-Fetch-Site': 'cross-site', 'Sec-Fetch-Mode': 'no-cors' })).toBe(403);
    expect(await status({ 'Sec-Fetch-Site': 'same-site' })).toBe(403);
    expect(await status({ 'Sec-Fetch-Site': 'cross-site', 'Sec-Fetch-Mode': 'navigate' })).toBe(403); // the API is no page
  });

  test('with a token, only who brought it: in the address once, then by cookie, or as a bearer', async () => {
    const guarded = await startServer(undefined, false, '0.0.0.0', 'secret-token');
    const call = (path: string, headers: Record<string, string> = {}) => guarded.call('GET', path, undefined, headers);
    const asked = await call('/api/pieces');
    expect([asked.status, asked.json.code]).toEqual([401, 'no-access']);
    const door = await call('/bench/abcdef');
    expect([door.status, door.bytes.toString()]).toEqual([401, expect.stringContaining('Access token')]);
    expect((await call('/?token=wrong')).status).toBe(401);
    const entered = await call('/bench/abcdef?token=secret-token&x=1');
    expect([entered.status, entered.headers['location']]).toEqual([303, '/bench/abcdef?x=1']);
    const [cookie] = entered.headers['set-cookie'] as string[];
    expect(cookie).toMatch(/HttpOnly; SameSite=Lax/);
    expect((await call('/api/pieces', { Cookie: cookie.split(';')[0] })).status).toBe(200);
    expect((await call('/api/pieces', { Authorization: 'Bearer secret-token' })).status).toBe(200);
    expect((await call('/api/pieces', { Authorization: 'Bearer secret', Cookie: 'other=1' })).status).toBe(401);
    expect((await call('//evil.test/?token=secret-token')).headers['location']).toBe('/evil.test/');
    await guarded.stop();
  });

  test('the API is what the guard takes for it, in any case of letters', async () => {
    for (const path of ['/API/pieces', '/Api/pieces']) {
      const navigation = { 'Sec-Fetch-Site': 'cross-site', 'Sec-Fetch-Mode': 'navigate' };
      const answer = await server.call('GET', path, undefined, navigation);
      expect(String(answer.headers['content-type'])).not.toContain('json; charset');
      expect(answer.json?.pieces).toBeUndefined();
    }
  });

  test('a range that is none is refused as what it is', async () => {
    const answer = await server.call('GET', '/assets/none', undefined, { Range: 'bytes=5-1' });
    expect(answer.status).toBeLessThan(500);
  });

  test.each([
    ['an unknown charset', { 'Content-Type': 'application/json; charset=klingon' }],
    ['an unknown encoding', { 'Content-Type': 'application/json', 'Content-Encoding': 'zap' }],
  ])('%s is said, not an error of ours', async (_what, headers) => {
    const answer = await server.call('POST', '/api/pieces', new TextEncoder().encode('{}'), headers);
    expect([answer.status, answer.json.code]).toEqual([415, 'unsupported-encoding']);
  });

  test.each(['CON', 'nul.png', 'com1.tga', 'a\r\nb.png', 'x/LPT9'])('the name %j is not let in', async (name) => {
    const answer = await upload(name, leaf);
    expect([answer.status, answer.json.code]).toEqual([400, 'bad-request']);
  });

  test('sends a strict content policy and isolates the page', async () => {
    const { headers } = await server.call('GET', '/api/pieces');
    const policy = String(headers['content-security-policy']);
    expect(policy).toContain("default-src 'none'");
    expect(policy).toContain("script-src 'self' 'wasm-unsafe-eval'");
    expect(policy).not.toContain("script-src 'self' 'unsafe");
    expect(headers).toMatchObject({
      'cross-origin-opener-policy': 'same-origin',
      'cross-origin-embedder-policy': 'require-corp',
      'x-content-type-options': 'nosniff',
    });
    expect(headers['access-control-allow-origin']).toBeUndefined();
  });

  test.each([
    ['GET', '/api/pieces/..%2F..%2Fetc', undefined],
    ['GET', `/api/sources/${'z'.repeat(64)}/bytes`, undefined],
    ['POST', '/api/pieces', { name: 'x', sources: 'all' }],
    ['POST', '/api/sources', undefined],
    ['GET', '/api/nothing', undefined],
  ])('%s %s is refused in our own form', async (method, path, body) => {
    const { status: code, json } = await server.call(method, path, body);
    expect([400, 404]).toContain(code);
    expect(Object.keys(json).sort()).toEqual(['code', 'message', 'remedy']);
  });

  test('JSON that is none, and one that is too long', async () => {
    const bad = await server.call('POST', '/api/pieces', new TextEncoder().encode('{"name":'), {
      'Content-Type': 'application/json',
    });
    expect([bad.status, bad.json.code]).toEqual([400, 'bad-request']);
    const long = await server.call('POST', '/api/pieces', { name: 'x'.repeat(33 * 1024 * 1024) });
    expect([long.status, long.json.code]).toEqual([413, 'too-large']);
  });
});
