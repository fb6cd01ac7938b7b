/** @jest-environment node */
import { afterEach, describe, expect, jest, test } from '@jest/globals';
import { makeStep, PIECE_DEFAULTS, type PieceDoc } from '@lithe-sieve/core';
import { Engine, type EngineEvents } from '../src/engine/engine';
import type { Side } from '../src/engine/side';
import type { Answer, MapsResult, MaskResult, RunRequest, ViewResult } from '../src/workers/types';

const doc = (cutoff: number, run = [makeStep('step-1', 'levels', { black: cutoff })]): PieceDoc => ({
  ...PIECE_DEFAULTS,
  name: 'Leaf',
  sources: [{ id: 'source', sha256: 'a'.repeat(64), fileName: 'a.png' }],
  run,
});

/** Stands in for a worker: each call waits until the test answers it. */
class Standin {
  readonly worker = Object.assign(new EventTarget(), { terminate: () => undefined }) as unknown as Worker;
  readonly newest = new Int32Array(new SharedArrayBuffer(16));
  readonly calls: { what: string; turn: number; answer(value: unknown): void; fail(error: Error): void }[] = [];
  readonly remote = new Proxy(
    {},
    {
      get: (_, what: string) => (asked: RunRequest | number) =>
        new Promise((answer, fail) =>
          this.calls.push({ what, turn: typeof asked === 'number' ? asked : asked?.turn, answer, fail }),
        ),
    },
  );
  get side(): Side {
    return this as unknown as Side;
  }
  last(what: string) {
    return this.calls.filter((c) => c.what === what).at(-1)!;
  }
}

const ok = <T>(value: T): Answer<T> => ({ ok: true, value });
const flush = () => new Promise((resolve) => setTimeout(resolve));

function start() {
  const [full, view] = [new Standin(), new Standin()];
  const events = {
    view: jest.fn<EngineEvents['view']>(),
    mask: jest.fn<EngineEvents['mask']>(),
    maps: jest.fn<EngineEvents['maps']>(),
    counts: jest.fn<EngineEvents['counts']>(),
    surface: jest.fn<EngineEvents['surface']>(),
    painted: jest.fn<EngineEvents['painted']>(),
    busy: jest.fn<EngineEvents['busy']>(),
    failed: jest.fn<EngineEvents['failed']>(),
    silent: jest.fn<EngineEvents['silent']>(),
  };
  const engine = new Engine(events, full.side, view.side);
  engines.push(engine);
  return { engine, full, view, events };
}

const engines: Engine[] = [];
afterEach(() => engines.splice(0).forEach((engine) => engine.stop()));

describe('the engine', () => {
  test('asks for the mask, then the maps, then the counts; results carry the turn that was asked for', async () => {
    const { engine, full, view, events } = start();
    const turn = engine.request(doc(0.1));
    expect([full.last('mask').turn, view.last('view').turn, full.newest[0]]).toEqual([turn, turn, turn]);
    full.last('mask').answer(ok({ turn } as MaskResult));
    await flush();
    full.last('maps').answer(ok({} as MapsResult));
    await flush();
    expect(events.busy.mock.calls).toEqual([[true], [false]]);
    full.last('counts').answer([]);
    await flush();
    expect([events.mask.mock.calls.length, events.counts.mock.calls]).toEqual([1, [[turn, []]]]);
    expect(engine.request(doc(0.1))).toBe(turn); // nothing changed: nothing is asked
    expect(full.calls.filter((c) => c.what === 'mask')).toHaveLength(1);
  });

  test('the newest change wins: what comes late of an older one is not shown', async () => {
    const { engine, full, events } = start();
    engine.request(doc(0.1));
    const older = full.last('mask');
    const newer = engine.request(doc(0.2));
    expect(full.newest[0]).toBe(newer);
    older.answer(null); // it gave up
    await flush();
    expect([events.mask.mock.calls.length, full.calls.some((c) => c.what === 'maps')]).toEqual([0, false]);
  });

  test.each([
    [
      'answers with an error',
      (call: { answer(v: unknown): void }) =>
        call.answer({ ok: false, error: { code: 'x', message: 'No room', remedy: 'Close tabs' } }),
    ],
    ['throws', (call: { fail(e: Error): void }) => call.fail(new Error('memory'))],
  ] as const)(
    'a task that %s ends the computation, is reported, and the next change computes again',
    async (_, how) => {
      const { engine, full, events } = start();
      engine.request(doc(0.1));
      how(full.last('mask'));
      await flush();
      expect(events.failed).toHaveBeenCalledTimes(1);
      expect(events.busy.mock.calls.at(-1)).toEqual([false]);
      engine.request(doc(0.1));
      expect(full.calls.filter((c) => c.what === 'mask')).toHaveLength(2);
    },
  );

  test('a first answer is shown at once; the rest is asked for unless something newer waits', async () => {
    const { engine, view, events } = start();
    engine.request(doc(0.1));
    view.last('view').answer(ok({ whole: false } as ViewResult));
    await flush();
    expect(view.calls.filter((c) => c.what === 'view')).toHaveLength(2); // the rest of it
    const newer = engine.request(doc(0.2));
    view.last('view').answer(ok({ whole: true } as ViewResult));
    await flush();
    expect([events.view.mock.calls.length, view.last('view').turn]).toEqual([2, newer]);
    const newest = engine.request(doc(0.3));
    view.last('view').answer(ok({ whole: false } as ViewResult));
    await flush();
    expect([events.view.mock.calls.length, view.last('view').turn]).toEqual([3, newest]);
  });

  test('a worker that breaks down outside of a task is reported', () => {
    const { engine, view, events } = start();
    engine.request(doc(0.1));
    view.worker.dispatchEvent(Object.assign(new Event('error'), { message: 'script gone' }));
    expect(events.failed.mock.calls[0][0].message).toContain('script gone');
    expect(events.busy.mock.calls.at(-1)).toEqual([false]);
  });

  test('a stroke interrupts what is computed in full; taken back, that goes on under its own turn', async () => {
    const { engine, full, view } = start();
    const strokes = doc(0, [makeStep('step-1', 'strokes')]);
    const turn = engine.request(strokes);
    const brush = { id: 'stroke-1', kind: 'brush', effect: 'cut', path: [] } as never;
    const begun = engine.paintBegin(strokes, 'step-1', brush);
    expect(full.newest[0]).toBeGreaterThan(turn);
    full.last('paintBegin').answer(ok(true));
    expect(await begun).toBeNull();
    full.last('mask').answer(null);
    engine.paintEnd(null);
    expect([full.newest[0], full.last('mask').turn]).toEqual([turn, turn]);
    view.last('view').answer(ok({ whole: true } as ViewResult));
    await flush();
  });
});
