import { describe, expect, test } from '@jest/globals';
import {
  BRUSH_DEFAULTS,
  digest,
  endOfStretch,
  evaluateRun,
  fingerprint,
  makeRunCache,
  makeStep,
  moveStep,
  SieveError,
  StrokePainter,
  type RunCache,
  type RunHost,
  type Stroke,
} from '../src/testing.ts';
import { murmur128 } from '../src/math/digest.ts';
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

  test('a step of strokes writes its memory again, and no earlier state is taken for a current one', () => {
    const cache = makeRunCache(1 << 20);
    const painter = new StrokePainter(picture.width, picture.height);
    const cut = (id: string, x: number): Stroke => ({
      id,
      kind: 'brush',
      effect: 'cut',
      seed: 1,
      brush: { ...BRUSH_DEFAULTS, diameter: 4 },
      path: [x * 64, 4 * 64, 1023],
    });
    const strokes = new Map([cut('stroke-1', 3), cut('stroke-2', 8)].map((s) => [s.id, s]));
    const evaluate = (ids: string[], others: Partial<RunHost>) =>
      evaluateRun([makeStep('s1', 'strokes', { strokes: ids }), makeStep('s2', 'invert'), makeStep('s3', 'bleed')], {
        sources,
        strokes,
        ...others,
      });
    for (const ids of [['stroke-1'], ['stroke-1', 'stroke-2'], ['stroke-1'], [], ['stroke-1', 'stroke-2']]) {
      const kept = evaluate(ids, { cache, painterOf: () => painter });
      const fresh = evaluate(ids, {});
      expect(fingerprint(kept.steps[0].mask)).toBe(fingerprint(fresh.steps[0].mask));
      expect([fingerprint(kept.mask), fingerprint(kept.colour)]).toEqual([
        fingerprint(fresh.mask),
        fingerprint(fresh.colour),
      ]);
    }
  });

  test('can be cancelled between bands', () => {
    const checkpoint = () => {
      throw new SieveError('cancelled', 'Overtaken.');
    };
    expect(() => evaluateRun(run, { sources, checkpoint })).toThrow('Overtaken.');
  });

  test('the cache forgets what saves least, and of equals the oldest', () => {
    const cache: RunCache = makeRunCache(3 * (96 + 4 * 96)); // room for three states of 96 texels
    const state = { colour: picture, mask: evaluateRun([], { sources }).mask };
    for (const key of ['a', 'b', 'c']) cache.set(key, state, 5);
    cache.get('a');
    cache.set('d', state, 5);
    expect([cache.get('b'), cache.get('a'), cache.get('d')]).toEqual([undefined, state, state]);
    // a run that does not fit: what takes long stays, however often it is gone through
    const hits: Record<string, number> = {};
    for (let round = 0; round < 5; round++) {
      for (const [key, cost] of Object.entries({ long: 500, quick: 1, quicker: 1, quickest: 1 })) {
        if (cache.get(key)) hits[key] = (hits[key] ?? 0) + 1;
        else cache.set(key, state, cost);
      }
    }
    expect(hits.long).toBe(4);
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

describe('keys', () => {
  test('are the published MurmurHash3_x86_128: the verification value of SMHasher (mem)', () => {
    const hashes = new Uint8Array(256 * 16);
    const key = Uint8Array.from({ length: 256 }, (_, i) => i);
    for (let i = 0; i < 256; i++) {
      hashes.set(new Uint8Array(murmur128(key.subarray(0, i), 256 - i).buffer), 16 * i);
    }
    expect(murmur128(hashes, 0)[0]).toBe(0xb3ece62a);
  });

  test('are as long for thousands of strokes as for none', () => {
    const ids = Array.from({ length: 5000 }, (_, i) => `stroke-${i}`);
    const [many, none] = [ids, []].map((strokes) => digest(JSON.stringify(strokes)));
    expect([many.length, none.length]).toEqual([32, 32]);
    expect(digest(JSON.stringify(ids.slice(1)))).not.toBe(many);
    const late = evaluateRun(run, { sources: [{ ...sources[0], sha256: 'b'.repeat(64) }] });
    expect(late.key).not.toBe(evaluateRun(run, { sources }).key);
  });
});
