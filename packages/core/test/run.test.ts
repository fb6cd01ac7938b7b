import { describe, expect, test } from '@jest/globals';
import {
  endOfStretch,
  evaluateRun,
  makeRunCache,
  makeStep,
  moveStep,
  SieveError,
  type RunCache,
  type RunState,
} from '../src/index.ts';
import { noisePicture } from './helpers/pictures.ts';

const picture = noisePicture(1, 12, 8);
const sources = [{ id: 'c', sha256: 'a'.repeat(64), picture }];
const run = [makeStep('s1', 'from-channel', { channel: 'alpha' }), makeStep('s2', 'invert'), makeStep('s3', 'bleed')];

describe('a run', () => {
  test('keeps all before the first step, and reports the state after each', () => {
    expect(new Set(evaluateRun([], { sources }).mask.data)).toEqual(new Set([255]));
    const result = evaluateRun(run, { sources });
    const alpha = picture.data.filter((_, i) => i % 4 === 3);
    expect(Array.from(result.steps[0].mask.data)).toEqual(Array.from(alpha));
    expect(Array.from(result.mask.data)).toEqual(Array.from(alpha, (a) => 255 - a));
    expect(result.colour).not.toBe(picture);
  });

  test('a source with a place lies there, at view size too, and keeps nothing outside of it', () => {
    const layer = { width: 3, height: 2, channels: 4 as const, data: new Uint8Array(24).fill(255) };
    const from = [makeStep('s1', 'from-channel', { sourceId: 'l', channel: 'alpha' })];
    const kept = (x: number, y: number, scale = 1) => {
      const placed = { id: 'l', sha256: 'b'.repeat(64), picture: layer, place: { x, y } };
      const { mask } = evaluateRun(from, { sources: [...sources, placed], scale });
      return Array.from(mask.data.entries()).flatMap(([i, v]) => (v ? [[i % 12, Math.floor(i / 12)]] : []));
    };
    expect(kept(4, 5)).toEqual([4, 5, 6].map((x) => [x, 5]).concat([4, 5, 6].map((x) => [x, 6])));
    expect(kept(-2, -1)).toEqual([[0, 0]]);
    expect(kept(11, 7)).toEqual([[11, 7]]);
    expect(kept(8, 10, 0.5).length).toBe(6);
    expect([kept(12, 0), kept(0, 8), kept(-3, 0), kept(500, -900)]).toEqual([[], [], [], []]);
  });

  test('a step that is off hands its input on', () => {
    const off = run.map((s) => (s.id === 's2' ? { ...s, on: false } : s));
    const result = evaluateRun(off, { sources });
    expect(result.steps[1].mask).toBe(result.steps[0].mask);
  });

  test('a step that cannot be done is passed over and says why', () => {
    const broken = [makeStep('s0', 'from-channel', { sourceId: 'gone' }), ...run];
    const result = evaluateRun(broken, { sources });
    expect(result.steps[0].error).toMatchObject({ code: 'missing-source' });
    expect(result.mask.data).toEqual(evaluateRun(run, { sources }).mask.data);
    expect(() => evaluateRun(run, { sources: [] })).toThrow('no picture yet');
  });

  test('recomputes only what a change touches', () => {
    const cache = makeRunCache(1 << 20);
    const before = evaluateRun(run, { sources, cache });
    const changed = [...run.slice(0, 2), makeStep('s3', 'bleed', { trust: 0.9 })];
    const after = evaluateRun(changed, { sources, cache });
    expect(after.mask).toBe(before.mask);
    expect(after.colour).not.toBe(before.colour);
    expect(after.key).not.toBe(before.key);
    expect(evaluateRun(run, { sources, cache }).colour).toBe(before.colour); // undo is there at once
  });

  test('can be cancelled between bands', () => {
    const checkpoint = () => {
      throw new SieveError('cancelled', 'Overtaken.');
    };
    expect(() => evaluateRun(run, { sources, checkpoint })).toThrow('Overtaken.');
  });

  test('the cache forgets the oldest when it is full', () => {
    const cache: RunCache = makeRunCache(3 * 96 + 3 * 96); // room for three states of 96 texels
    const state = { colour: picture, mask: evaluateRun([], { sources }).mask } as RunState;
    for (const key of ['a', 'b', 'c']) cache.set(key, state);
    cache.get('a');
    cache.set('d', state);
    expect([cache.get('b'), cache.get('a'), cache.get('d')]).toEqual([undefined, state, state]);
  });
});

describe('the order of steps', () => {
  test('mask steps stay before colour steps', () => {
    expect([endOfStretch(run, 'levels'), endOfStretch(run, 'bleed'), endOfStretch([], 'levels')]).toEqual([2, 3, 0]);
    const ids = (r: typeof run) => r.map((s) => s.id).join();
    expect(ids(moveStep(run, 's2', -1))).toBe('s2,s1,s3');
    expect(ids(moveStep(run, 's2', 1))).toBe('s1,s2,s3'); // bleed is of the other stretch
    expect(ids(moveStep(run, 's1', -1))).toBe('s1,s2,s3');
  });
});
