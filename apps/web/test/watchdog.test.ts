import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import { makeMask, makeStep, PIECE_DEFAULTS, type PieceDoc, type PlainError } from '@lithe-sieve/core';
import { answering } from '../src/api/answering';
import { ClipEngine } from '../src/engine/clip-engine';
import { LOOK_MS, Watchdog } from '../src/engine/watchdog';
import { stands, underWayAt, underWayNotes } from '../src/engine/under-way';
import { HEARTBEAT, SHARED_BYTES } from '../src/workers/shared-places';

beforeEach(() => {
  jest.useFakeTimers();
});
afterEach(() => {
  jest.useRealTimers();
});

test('a worker that counts no heartbeat any more is noticed, once; one that does is not', () => {
  const [a, b] = [1, 2].map(() => new Int32Array(new SharedArrayBuffer(SHARED_BYTES)));
  const silent = jest.fn();
  new Watchdog([a, b], () => 10_000, silent);
  for (let k = 0; k < 20; k++) {
    for (const its of [a, b]) its[HEARTBEAT]++;
    jest.advanceTimersByTime(LOOK_MS);
  }
  expect(silent).not.toHaveBeenCalled();
  for (let k = 0; k < 20; k++) {
    a[HEARTBEAT]++; // the other one has ended
    jest.advanceTimersByTime(LOOK_MS);
  }
  expect(silent).toHaveBeenCalledTimes(1);
});

test.each([
  ['silent', /does not answer/],
  ['broken', /out of memory/],
])('a request to a clip worker that is %s fails in words, and the next one starts another', async (how, said) => {
  const made: FakeWorker[] = [];
  class FakeWorker extends EventTarget {
    readonly sent: unknown[] = [];
    ended = false;
    constructor() {
      super();
      made.push(this);
    }
    postMessage(message: unknown) {
      this.sent.push(message);
    }
    terminate() {
      this.ended = true;
    }
  }
  Object.assign(globalThis, { Worker: FakeWorker });
  const failed = jest.fn();
  const engine = new ClipEngine({ made: jest.fn(), failed });
  const plain = [makeMask(8, 8, new Uint8Array(64))];
  const { material: clip, levels: settings, drawn } = PIECE_DEFAULTS;
  const ask = () => engine.request({ plain, clip, settings, drawn, sources: new Map() });
  ask();
  await jest.advanceTimersByTimeAsync(1000);
  expect(made[0].sent.length).toBeGreaterThan(1);
  if (how === 'broken') made[0].dispatchEvent(Object.assign(new Event('error'), { message: 'out of memory' }));
  await jest.advanceTimersByTimeAsync(40_000);
  expect(failed).toHaveBeenCalledTimes(1);
  expect((failed.mock.calls[0][0] as PlainError).message).toMatch(said);
  expect(made[0].ended).toBe(true);
  ask();
  await jest.advanceTimersByTimeAsync(1000);
  expect(made).toHaveLength(2);
  engine.stop();
  await jest.advanceTimersByTimeAsync(60_000);
  expect(failed).toHaveBeenCalledTimes(1); // one that was left on purpose has not failed
});

test('what was under way is known again only while the document would compute it as it was', async () => {
  const step = makeStep('step-1', 'feather', { radius: 3 });
  const doc: PieceDoc = { ...PIECE_DEFAULTS, name: 'Leaf', sources: [], run: [step] };
  const noted = underWayAt(doc, 'step-1')!;
  expect([stands(doc, noted), underWayAt(doc, null)]).toEqual([true, null]);
  expect(stands({ ...doc, run: [makeStep('step-1', 'feather', { radius: 4 })] }, noted)).toBe(false);
  expect(stands({ ...doc, run: [{ ...step, on: false }] }, noted)).toBe(false);
  underWayNotes.note('piece', noted);
  expect(await underWayNotes.takeLeft('piece')).toBeNull(); // this page itself computes it
  const [key] = Object.keys(localStorage);
  localStorage.setItem(key, localStorage.getItem(key)!.replace(/"session":"[^"]*"/, '"session":"gone"'));
  expect(await underWayNotes.takeLeft('piece')).toEqual({ ...noted });
  expect(await underWayNotes.takeLeft('piece')).toBeNull();
});

test('a page takes back its own note alone, and a newer version of a step is another computation', () => {
  const step = makeStep('step-1', 'resize', { factor: 0.5 });
  const doc: PieceDoc = { ...PIECE_DEFAULTS, name: 'Leaf', sources: [], run: [{ ...step, version: undefined }] };
  const noted = underWayAt(doc, 'step-1')!;
  expect(stands({ ...doc, run: [step] }, noted)).toBe(false);
  underWayNotes.note('piece', noted);
  const [key] = Object.keys(localStorage);
  localStorage.setItem(key, localStorage.getItem(key)!.replace(/"session":"[^"]*"/, '"session":"another"'));
  underWayNotes.clear('piece');
  expect(Object.keys(localStorage)).toEqual([key]);
  localStorage.clear();
});

test('a server that answers nothing is noticed within ten seconds, one that is only busy is not', async () => {
  const said = jest.fn();
  answering.whenChanged(said);
  let answers = true;
  globalThis.fetch = ((_: string, { signal }: { signal: AbortSignal }) =>
    new Promise((resolve, reject) => {
      if (answers) resolve(new Response(null, { status: 204 }));
      signal.addEventListener('abort', () => reject(new Error('late')));
    })) as typeof fetch;
  AbortSignal.timeout = (ms) => {
    const late = new AbortController();
    setTimeout(() => late.abort(), ms);
    return late.signal;
  };
  globalThis.Response ??= class {} as typeof Response;
  const heard = answering.sent();
  await jest.advanceTimersByTimeAsync(30_000);
  expect(said).not.toHaveBeenCalled();
  answers = false;
  await jest.advanceTimersByTimeAsync(10_000);
  expect(said.mock.calls).toEqual([[true]]);
  answers = true;
  await jest.advanceTimersByTimeAsync(7000);
  expect(said.mock.calls).toEqual([[true], [false]]);
  heard(true);
});
