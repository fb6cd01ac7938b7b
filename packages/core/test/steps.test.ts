import { describe, expect, test } from '@jest/globals';
import {
  bleedColour,
  curveAt,
  levelsTable,
  makePicture,
  oklabDistance,
  oklabFromBytes,
  power,
  STEP_KINDS,
  thresholdByte,
  type CurvePoint,
  type FromColourParams,
  type Rgb,
} from '../src/testing.ts';
import { fixtureJson } from './helpers/node-codecs.ts';
import { after, drawMask, env, noiseMask, noisePicture, random, showMask, stateOf } from './helpers/pictures.ts';

describe('from channel', () => {
  const picture = makePicture(3, 1, Uint8Array.of(10, 20, 30, 40, 255, 255, 255, 0, 0, 0, 0, 255));
  const pull = (channel: 'red' | 'green' | 'blue' | 'alpha' | 'luminance') =>
    Array.from(after('from-channel', stateOf(picture), { channel }).mask.data);

  test('takes the channel it names', () => {
    expect(pull('red')).toEqual([10, 255, 0]);
    expect(pull('green')).toEqual([20, 255, 0]);
    expect(pull('blue')).toEqual([30, 255, 0]);
    expect(pull('alpha')).toEqual([40, 0, 255]);
    expect(pull('luminance')).toEqual([19, 255, 0]); // 0.2126·10 + 0.7152·20 + 0.0722·30 = 18.6
  });

  test('refuses another size, or scales it when told', () => {
    const small = makePicture(1, 1, Uint8Array.of(0, 0, 0, 200));
    const apply = (fit: 'refuse' | 'scale') =>
      after('from-channel', stateOf(picture), { sourceId: 'm', channel: 'alpha', fit }, env({ m: small }));
    expect(() => apply('refuse')).toThrow('differ in size');
    expect(Array.from(apply('scale').mask.data)).toEqual([200, 200, 200]);
  });
});

type Swatches = Pick<FromColourParams, 'drop' | 'keep' | 'tolerance' | 'softness'>;

describe('from colour', () => {
  /** The rule of the docstring, texel by texel, with exact distances. */
  function bruteForce(rgb: Rgb, { drop, keep, tolerance, softness }: Swatches): number {
    const to = (list: Rgb[]) =>
      Math.min(Infinity, ...list.map((c) => oklabDistance(oklabFromBytes(...rgb), oklabFromBytes(...c))));
    const margin = drop.length === 0 ? tolerance - to(keep) : to(drop) - Math.min(tolerance, to(keep));
    return Math.min(255, Math.max(0, Math.floor(128 + (margin * 255) / Math.max(softness, 1e-6))));
  }

  test.each([
    ['drop', { drop: [[200, 190, 180]], keep: [], tolerance: 0.2, softness: 0.3 }],
    [
      'keep',
      {
        drop: [],
        keep: [
          [60, 120, 40],
          [10, 10, 10],
        ],
        tolerance: 0.25,
        softness: 0.2,
      },
    ],
    ['both', { drop: [[200, 190, 180]], keep: [[180, 190, 160]], tolerance: 0.3, softness: 0.2 }],
  ] as [string, FromColourParams][])('%s swatches agree with exact distances within one level', (_, params) => {
    const colour = noisePicture(3, 41, 17);
    const { mask } = after('from-colour', stateOf(colour), params);
    for (let i = 0; i < mask.data.length; i++) {
      const [r, g, b] = colour.data.subarray(4 * i, 4 * i + 3);
      expect(Math.abs(mask.data[i] - bruteForce([r, g, b], params))).toBeLessThanOrEqual(1);
    }
  });

  test('a hard edge leaves only kept and dropped; no swatch keeps all', () => {
    const colour = noisePicture(4, 16, 16);
    const hard = {
      ...STEP_KINDS['from-colour'].defaults,
      drop: [[128, 128, 128] as Rgb],
      keep: [],
      tolerance: 0.2,
      softness: 0,
    };
    const values = new Set(after('from-colour', stateOf(colour), hard).mask.data);
    expect(values).toEqual(new Set([0, 255]));
    const none = after('from-colour', stateOf(colour), { ...hard, drop: [] });
    expect(new Set(none.mask.data)).toEqual(new Set([255]));
  });
});

describe('levels and invert', () => {
  test('the table is the formula', () => {
    const table = levelsTable({ ...STEP_KINDS.levels.defaults, black: 0.2, white: 0.8, gamma: 2 });
    expect([table[0], table[51], table[204], table[255]]).toEqual([0, 0, 255, 255]);
    expect(table[128]).toBe(Math.round(255 * Math.sqrt((128 / 255 - 0.2) / 0.6)));
    expect(Array.from(levelsTable(STEP_KINDS.levels.defaults))).toEqual(Array.from({ length: 256 }, (_, v) => v));
  });

  test('a hard ramp jumps at one half; a white point at or under black jumps at black', () => {
    const hard = levelsTable({ ...STEP_KINDS.levels.defaults, ramp: 'hard' });
    expect([hard[127], hard[128]]).toEqual([0, 255]);
    const jump = levelsTable({ ...STEP_KINDS.levels.defaults, black: 0.6, white: 0.4 });
    expect([jump[152], jump[153]]).toEqual([0, 255]); // 0.6 · 255 = 153
  });

  test.each([1, 2, 3])('every texel goes through the table, odd sizes too, seed %i', (seed) => {
    const mask = noiseMask(seed, 13 + seed, 7);
    const params = { ...STEP_KINDS.levels.defaults, black: 0.1, white: 0.7, gamma: 1.7 };
    const table = levelsTable(params);
    const state = stateOf(noisePicture(1, mask.width, mask.height), mask);
    expect(Array.from(after('levels', state, params).mask.data)).toEqual(Array.from(mask.data, (v) => table[v]));
    const twice = after('invert', after('invert', state, {}), {});
    expect(twice.mask.data).toEqual(mask.data);
  });

  test('gamma 1 / 2.2 is the power it says', () => expect(power(0.5, 1 / 2.2)).toBeCloseTo(0.7297, 4));
});

describe('bleed', () => {
  /** Every texel carries its own index as colour, so that the result names where it came from. */
  function numbered(width: number, height: number) {
    const data = new Uint8Array(width * height * 4);
    new Uint32Array(data.buffer).forEach((_, i, words) => (words[i] = i | 0x80000000));
    return makePicture(width, height, data);
  }
  function squaredDistances(width: number, height: number, kept: (x: number, y: number) => boolean): number[] {
    const mask = drawMask(
      Array.from({ length: height }, (_, y) =>
        Array.from({ length: width }, (_v, x) => (kept(x, y) ? '#' : '.')).join(''),
      ),
    );
    const out = bleedColour(numbered(width, height), mask, 128, env());
    return Array.from(new Uint32Array(out.data.buffer), (word, i) => {
      const from = word & 0xffffff;
      expect(mask.data[from]).toBe(255); // the colour always comes from a kept texel
      expect(word >>> 24).toBe(0x80); // alpha stays
      return ((i % width) - (from % width)) ** 2 + (Math.floor(i / width) - Math.floor(from / width)) ** 2;
    });
  }

  test.each([1, 2, 3, 4, 5, 6])('the nearest kept texel, as by looking at every one, seed %i', (seed) => {
    const next = random(seed);
    const [width, height] = [5 + Math.floor(30 * next()), 5 + Math.floor(25 * next())];
    const share = [0.002, 0.02, 0.3][seed % 3];
    const sites = new Set(Array.from({ length: width * height }, (_, i) => i).filter((i) => i === 7 || next() < share));
    const list = Array.from(sites, (i) => [i % width, Math.floor(i / width)]);
    const brute = Array.from({ length: width * height }, (_, i) =>
      Math.min(...list.map(([x, y]) => (x - (i % width)) ** 2 + (y - Math.floor(i / width)) ** 2)),
    );
    expect(squaredDistances(width, height, (x, y) => sites.has(y * width + x))).toEqual(brute);
  });

  test('distances equal scipy.ndimage.distance_transform_edt (check values of fixtures/make-checks.py)', () => {
    const { width, height, squared } = fixtureJson<{ width: number; height: number; squared: number[] }>('edt.json');
    expect(squaredDistances(width, height, (x, y) => (x * x * 7 + y * 13 + x * y) % 97 < 3)).toEqual(squared);
  });

  test('nothing kept leaves the picture as it is, all kept too', () => {
    const colour = noisePicture(8, 9, 6);
    const none = drawMask(Array.from({ length: 6 }, () => '.........'));
    expect(bleedColour(colour, none, 128, env()).data).toEqual(colour.data);
    expect(bleedColour(colour, none, 0, env()).data).toEqual(colour.data);
  });

  test('trusts from its own threshold, not below', () => {
    const mask = drawMask(['#+.']);
    expect(showMask(mask)).toEqual(['#+.']);
    const colour = makePicture(3, 1, Uint8Array.of(9, 9, 9, 1, 50, 50, 50, 2, 70, 70, 70, 3));
    const at = (trust: number) => Array.from(bleedColour(colour, mask, thresholdByte(trust), env()).data);
    expect(at(0.5)).toEqual([9, 9, 9, 1, 50, 50, 50, 2, 50, 50, 50, 3]);
    expect(at(0.6)).toEqual([9, 9, 9, 1, 9, 9, 9, 2, 9, 9, 9, 3]);
  });
});

test('a curve goes through its points, never beyond them, and a free one may turn', () => {
  const points: CurvePoint[] = [
    [0.1, 0],
    [0.3, 0.8],
    [0.5, 0.85],
    [0.9, 0.2],
  ];
  for (const [x, y] of points) expect(curveAt(points, x)).toBeCloseTo(y, 12);
  for (let x = 0; x <= 1; x += 0.01) {
    expect(curveAt(points, x)).toBeGreaterThanOrEqual(0);
    expect(curveAt(points, x)).toBeLessThanOrEqual(0.85 + 1e-12);
  }
  const rising = Array.from({ length: 41 }, (_, i) => curveAt(points.slice(0, 3), 0.1 + i / 100));
  expect(rising.every((v, i) => i === 0 || v >= rising[i - 1])).toBe(true);
  expect([curveAt([], 0.37), curveAt(points, 0), curveAt(points, 1)]).toEqual([0.37, 0, 0.2]);
  const table = levelsTable({
    ...STEP_KINDS.levels.defaults,
    curve: [
      [0, 1],
      [1, 0],
    ],
  });
  expect([table[0], table[100], table[255]]).toEqual([255, 155, 0]);
});
