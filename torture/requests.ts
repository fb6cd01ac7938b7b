import { noisePng } from './pictures.ts';
import { Studio } from './studio.ts';
import { Chance, times, type Extent, type Trial } from './trial.ts';

const METHODS = ['GET', 'POST', 'PUT', 'DELETE', 'PATCH', 'OPTIONS', 'HEAD'];
const PATHS = [
  '/api/pieces',
  '/api/pieces/ID',
  '/api/pieces/ID/edits',
  '/api/pieces/ID/strokes',
  '/api/pieces/ID/picture.png',
  '/api/pieces/ID/salvage.zip',
  '/api/pieces/ID/hand-offs',
  '/api/pieces/ID/hand-offs/latest',
  '/api/pieces/ID/restore',
  '/api/pieces/copies',
  '/api/sources',
  '/api/sources/SHA/bytes',
  '/api/sources/SHA/facts',
  '/api/folders',
  '/api/folders/list',
  '/api/folders/follow/ID',
  '/api/jobs/ID',
  '/api/jobs/ID/files/0',
  '/api/jobs/ID/all.zip',
  '/api/studio',
  '/API/pieces',
  '/api//pieces',
  '/api/%2e%2e/%2e%2e/etc/passwd',
  '/assets/..%2f..%2fpackage.json',
  '/bench/x',
  '/',
];
const ODD = [
  '',
  '0',
  '-1',
  '1e999',
  'null',
  'NaN',
  '%00',
  '%ff%fe',
  "';--",
  '../../etc/passwd',
  'x'.repeat(300),
  '🪲',
  '{}',
  '[]',
];
const HEADERS: Record<string, string>[] = [
  {},
  { 'Content-Type': 'application/json' },
  { 'Content-Type': 'application/json; charset=klingon' },
  { 'Content-Type': 'text/plain' },
  { 'Content-Encoding': 'gzip' },
  { 'Content-Encoding': 'zap' },
  { Origin: 'http://evil.test' },
  { Host: 'evil.test' },
  { 'Sec-Fetch-Site': 'cross-site' },
  { Range: 'bytes=5-1' },
  { 'If-None-Match': '*' },
];

/** Requests of every kind that no page sends: each is answered, none with an error of ours, and nothing changes. */
export async function hostile(extent: Extent): Promise<Trial> {
  const trial: Trial = { what: 'hostile requests', tries: 0, lost: 0, hangs: 0, errors: 0, seen: '' };
  const chance = new Chance(extent.seed + 7);
  const studio = new Studio();
  await studio.start();
  const { json } = await studio.bringIn(await noisePng(chance));
  const id = await studio.newPiece('Piece', json.sha256 as string);
  const before = (await studio.get(`/pieces/${id}`)).json as { doc: unknown; revision: number };
  const { doc } = before;
  const odd = (depth = 0): unknown => {
    const kind = chance.below(depth > 3 ? 3 : 9);
    if (kind === 0) return null;
    if (kind === 1) return chance.of([0, -1, 1e308, 0.5, 2 ** 53]);
    if (kind === 2) return chance.of(ODD);
    if (kind === 3) return Array.from({ length: chance.below(5) }, () => odd(depth + 1));
    if (kind === 4) return JSON.parse('{"__proto__":{"x":1},"constructor":1}') as unknown;
    return Object.fromEntries(
      Array.from({ length: chance.below(5) }, () => [
        chance.of(['doc', 'kind', 'entry', 'baseRevision', 'name', 'sources', 'id', 'path', 'paths']),
        odd(depth + 1),
      ]),
    );
  };
  const statuses = new Map<number, number>();
  for (let i = 0; i < times(20_000, extent); i++) {
    const path = chance
      .of(PATHS)
      .replace('ID', () => (chance.next() < 0.6 ? id : encodeURIComponent(chance.of(ODD)) || '_'))
      .replace('SHA', () =>
        chance.next() < 0.6 ? (json.sha256 as string) : encodeURIComponent(chance.of(ODD)) || '_',
      );
    const query =
      chance.next() < 0.3
        ? `?${chance.of(['name', 'path', 'from', 'count', 'search', 'token'])}=${encodeURIComponent(chance.of(ODD))}`
        : '';
    const method = chance.of(METHODS);
    const changes = method === 'DELETE' || /restore|hand-offs$/.test(path) || /folders$/.test(path);
    if (changes && path.includes(id)) continue; // what a page may do is no attack
    const body =
      method === 'GET' || method === 'HEAD' ? undefined : chance.next() < 0.3 ? Buffer.from(chance.of(ODD)) : odd();
    const headers = { ...chance.of(HEADERS) };
    if (path.includes('follow') && method === 'GET') continue; // a stream, which never ends
    const { status, hung } = await studio.call(method, `${path}${query}`, body, headers);
    statuses.set(status, (statuses.get(status) ?? 0) + 1);
    if (hung) trial.hangs++;
    if (status >= 500) {
      trial.errors++;
      console.log(status, method, path, query, headers, JSON.stringify(body)?.slice(0, 200));
    }
    trial.tries++;
  }
  const after = (await studio.get(`/pieces/${id}`)).json as { doc: unknown; revision: number };
  if (JSON.stringify(after.doc) !== JSON.stringify(doc) || !studio.running) trial.lost++;
  await studio.stop();
  studio.remove();
  trial.seen = [...statuses].sort(([a], [b]) => a - b).map(([s, n]) => `${s}: ${n}`).join(', '); // prettier-ignore
  return trial;
}
