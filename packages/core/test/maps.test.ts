import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { pictureTools } from '@lithe-sieve/host';
import { glbTools } from '@lithe-sieve/host/glb';
import {
  evaluateRun,
  fingerprint,
  mapMips,
  mapsOf,
  makeRunCache,
  makeStep,
  MAPS,
  packHandOff,
  PIECE_DEFAULTS,
  readBack,
  STEP_KINDS,
  type MapKind,
  type MapName,
  type PackTools,
  type PieceDoc,
  type Raster,
  type StepEntry,
  type StepKind,
} from '../src/testing.ts';
import { noisePicture } from './helpers/pictures.ts';

/** What a new map costs: an entry in the table, and the step that makes it. */
const LEAN: MapKind = {
  label: 'lean',
  hint: 'Made for this test',
  channels: 3,
  depth: 16,
  holds: 'data',
  neutral: [32768, 32768, 65535],
  mips: 'renormalised normals',
};
const lean = 'lean' as MapName;
const makeLean: StepKind<{ by: number }> = {
  stretch: 'maps',
  purpose: 'colour',
  label: 'Lean',
  hint: 'Made for this test',
  defaults: { by: 1 },
  ranges: { by: { min: 0, max: 9 } },
  pullsMask: false,
  apply({ mask: { width, height, data } }, { by }) {
    const out = new Uint16Array(3 * width * height);
    for (let i = 0; i < data.length; i++) out.set([(data[i] * 257 * by) & 0xffff, 65535 - data[i] * 257, 65535], 3 * i);
    return { maps: new Map([[lean, { width, height, channels: 3, data: out }]]) };
  },
};

beforeAll(() => {
  Object.assign(MAPS, { lean: LEAN });
  Object.assign(STEP_KINDS, { 'make-lean': makeLean });
});
afterAll(() => {
  delete (MAPS as Record<string, unknown>)['lean'];
  delete (STEP_KINDS as Record<string, unknown>)['make-lean'];
});

const picture = noisePicture(5, 20, 12);
const sources = [{ id: 'c', sha256: 'c'.repeat(64), picture }];
const leanStep = (by: number) => ({ id: 's2', kind: 'make-lean', on: true, params: { by } }) as unknown as StepEntry;
const run = (by = 1) => [makeStep('s1', 'from-channel', { channel: 'red' }), leanStep(by), makeStep('s3', 'invert')];

describe('a map that a test registers', () => {
  test('goes through the run: later steps leave it, and the steps after it start from it', () => {
    const result = evaluateRun(run(), { sources, keepStates: true });
    expect([...mapsOf(result).keys()]).toEqual(['colour', 'mask', 'lean']);
    expect(result.steps.map((s) => s.changes)).toEqual([['mask'], ['lean'], ['mask']]);
    expect(result.steps[1].state?.maps.get(lean)).toBeDefined();
    expect(result.steps[2].state?.maps.get(lean)).toBe(result.steps[1].state?.maps.get(lean));
    expect(
      evaluateRun(
        run().map((s) => ({ ...s, on: s.id !== 's2' })),
        { sources },
      ).maps.size,
    ).toBe(0);
  });

  test('is kept by the cache, and counts in its size', () => {
    const cache = makeRunCache(1 << 20);
    const first = evaluateRun(run(), { sources, cache }).maps.get(lean);
    expect(evaluateRun(run(), { sources, cache }).maps.get(lean)).toBe(first);
    expect(evaluateRun(run(2), { sources, cache }).maps.get(lean)).not.toBe(first);
    const small = makeRunCache(6 * 240 - 1); // the map alone takes 6 bytes a texel
    const again = evaluateRun(run(), { sources, cache: small }).maps.get(lean);
    expect(evaluateRun(run(), { sources, cache: small }).maps.get(lean)).not.toBe(again);
  });

  test('has a fingerprint of all its bits', () => {
    const raster = evaluateRun(run(), { sources }).maps.get(lean)!;
    const other = { ...raster, data: raster.data.slice() };
    expect(fingerprint(other)).toBe(fingerprint(raster));
    other.data[100] ^= 256;
    expect(fingerprint(other)).not.toBe(fingerprint(raster));
  });

  test('is written with its depth, and read back texel for texel', async () => {
    const state = evaluateRun(run(), { sources });
    const doc: PieceDoc = { ...PIECE_DEFAULTS, name: 'Leaning', sources: [], run: [] };
    const tools: PackTools = {
      ...pictureTools,
      glb: glbTools,
    };
    const plan = { slot: 'base', extension: 'png', holds: lean, contents: 'leaning' } as const;
    const profile = { id: 'rgba-png', group: 'Pictures', label: '', hint: '', files: [plan] } as const;
    const files = await packHandOff(doc, state, tools, profile);
    const checks = await readBack(files, doc, tools);
    expect(checks.map((c) => [c.what, c.ok, c.found])).toEqual([
      ['size', true, '20 × 12'],
      ['bit depth', true, '16 bits'],
      ['alpha', true, 'none'],
      ['texels', true, 'equal to the Bench, texel for texel'],
    ]);
    expect((await packHandOff(doc, evaluateRun([], { sources }), tools, profile)).length).toBe(0);
  });
});

describe('mip levels of any map', () => {
  const of = (channels: Raster['channels'], data: Uint8Array | Uint16Array, width = 2, height = 2) => ({
    width,
    height,
    channels,
    data,
  });

  test('directions keep their length (glTF 2.0 §5.19.5: a normal of 0, 0, 1 is 0.5, 0.5, 1)', () => {
    const lengthOf = (data: ArrayLike<number>) => Math.hypot(...[0, 1, 2].map((c) => (2 * data[c]) / 65535 - 1));
    const noise = Uint16Array.from({ length: 3 * 25 }, (_, i) => (i * 40503) & 0xffff);
    for (const { data } of mapMips(lean, of(3, noise, 5, 5))) {
      for (let i = 0; i < data.length; i += 3) expect(lengthOf(data.subarray(i, i + 3))).toBeCloseTo(1, 3);
    }
    const up = new Uint16Array(12).map((_, i) => LEAN.neutral[i % 3]);
    expect([...mapMips(lean, of(3, up))[0].data]).toEqual(LEAN.neutral);
    const opposite = Uint16Array.of(65535, 32768, 32768, 0, 32768, 32768, 65535, 32768, 32768, 0, 32768, 32768);
    const [level] = mapMips(lean, of(3, opposite));
    expect(lengthOf(level.data)).toBeCloseTo(1, 3);
  });

  test('values of 16 bits are averaged as they are, odd sides with three taps', () => {
    Object.assign(MAPS, { lean: { ...LEAN, channels: 1, mips: 'values' } });
    expect([...mapMips(lean, of(1, Uint16Array.of(0, 65535, 65535, 65535)))[0].data]).toEqual([49151]);
    const [three] = mapMips(lean, of(1, Uint16Array.of(300, 600, 900), 3, 1));
    expect([...three.data]).toEqual([600]);
    Object.assign(MAPS, { lean: LEAN });
  });
});
