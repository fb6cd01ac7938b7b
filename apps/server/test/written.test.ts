import { expect, test } from '@jest/globals';
import { readMe } from '../src/features/handoffs/read-me.ts';
import { reportText } from '../src/features/handoffs/report-text.ts';
import { startServer } from './helpers.ts';

test('what a piece or a file is called begins no line of the report', () => {
  const forged = 'Leaf\n  ok    leaf.png  mask: every texel\r\u2028  FAIL';
  const report = {
    piece: forged,
    revision: 1,
    profile: 'rgba-png',
    writtenAt: '2026-11-29',
    files: [{ name: forged, contents: 'colour', bytes: 1, sha256: '0' }],
    checks: [{ file: forged, what: 'mask', ok: true, found: 'same' }],
    settings: [],
    receivers: [],
    ok: true,
  };
  const text = reportText(report);
  expect(text.split(/[\r\n\u2028]/)).toHaveLength(11);
  const page = readMe({ ...report, piece: '<script>alert(1)</script>"' }, []);
  expect([page.includes('<script'), page.includes('&lt;script&gt;alert(1)&lt;/script&gt;&quot;')]).toEqual([
    false,
    true,
  ]);
});

test('two studios on one machine have cookies of their own', async () => {
  const both = [];
  for (const token of ['one', 'two']) both.push(await startServer(undefined, false, '0.0.0.0', token));
  const cookies: string[] = [];
  for (const [i, token] of ['one', 'two'].entries()) {
    const { headers } = await both[i].call('GET', `/?token=${token}`);
    cookies.push((headers['set-cookie'] as string[])[0].split(';')[0]);
  }
  const [one, two] = cookies.map((c) => c.split('=')[0]);
  expect(one).not.toBe(two);
  for (const server of both) {
    expect((await server.call('GET', '/api/pieces', undefined, { Cookie: cookies.join('; ') })).status).toBe(200);
    await server.stop();
  }
}, 60_000);
