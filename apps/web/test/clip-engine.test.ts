import { afterAll, beforeAll, expect, jest, test } from '@jest/globals';
import { CLIP_DRAWING_DEFAULTS, LEVEL_DEFAULTS, makeMask } from '@lithe-sieve/core';
import { ClipEngine } from '../src/engine/clip-engine';

/** Starts, takes what it is given, and breaks down as soon as it is asked for something. */
class DyingWorker extends EventTarget {
  static started = 0;
  static ended = 0;
  private asked = 0;

  constructor() {
    super();
    DyingWorker.started++;
  }

  postMessage(): void {
    if (++this.asked < 2) return; // the shared turns come first
    setTimeout(() => this.dispatchEvent(Object.assign(new Event('error'), { message: 'out of memory' })), 5);
  }

  terminate(): void {
    DyingWorker.ended++;
  }
}

const before = globalThis.Worker;
beforeAll(() => void Object.assign(globalThis, { Worker: DyingWorker }));
afterAll(() => void Object.assign(globalThis, { Worker: before }));

const mask = makeMask(2, 2, new Uint8Array(4));
const clip = { mode: 'mask' as const, cutoff: 0.5, opacity: 1 };

test('a worker that breaks down leaves nobody waiting: each request fails with its reason, the next starts another', async () => {
  const failed = jest.fn<(error: { message: string }) => void>();
  const engine = new ClipEngine({ made: () => undefined, failed });
  await expect(engine.breaks(1)).rejects.toThrow('out of memory');
  await expect(engine.fringe(mask, 128)).rejects.toThrow('out of memory');
  const stored = { colours: [], masks: [mask], clip, storage: 'BC4' as const, exact: true };
  await expect(engine.stored(engine.nextStorages(), stored)).rejects.toThrow('out of memory');
  engine.request({
    plain: [mask],
    clip,
    settings: LEVEL_DEFAULTS,
    drawn: CLIP_DRAWING_DEFAULTS,
    sources: new Map(),
  });
  await new Promise((resolve) => setTimeout(resolve, 250));
  expect(failed).toHaveBeenCalledWith(expect.objectContaining({ message: 'out of memory' }));
  expect([DyingWorker.started, DyingWorker.ended]).toEqual([4, 4]);
});

test('what waits when the piece is left ends, and a request that was taken back says nothing', async () => {
  const failed = jest.fn();
  const engine = new ClipEngine({ made: () => undefined, failed });
  const waiting = engine.figures(1);
  engine.request({
    plain: [mask],
    clip,
    settings: LEVEL_DEFAULTS,
    drawn: CLIP_DRAWING_DEFAULTS,
    sources: new Map(),
  });
  engine.stop();
  await expect(waiting).rejects.toThrow('The piece was left.');
  await new Promise((resolve) => setTimeout(resolve, 200));
  expect(failed).not.toHaveBeenCalled();
});
