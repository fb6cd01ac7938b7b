import { describe, expect, test } from '@jest/globals';
import { linearToSrgb, makeMask, makePicture, srgbToLinear, type Mask, type Picture } from '../src/testing.ts';
import type { Mixing } from '../src/matte/mixing.ts';
import { after, env, random, stateOf } from './helpers/pictures.ts';
import { drawShape, hair } from './helpers/webs.ts';

const SIDE = 192;

interface Taken {
  colour: Picture;
  alpha: Mask;
  /** The subject's own colour everywhere. */
  own: Uint8Array;
}

/** A subject of drifting colour before a backdrop that is lit a little unevenly, mixed as a camera or as a painter does. */
function taken(seed: number, mixed: Mixing, front: number[], back: number[], noise: number): Taken {
  const next = random(seed);
  const alpha = makeMask(SIDE, SIDE, new Uint8Array(SIDE * SIDE));
  for (let y = 0, i = 0; y < SIDE; y++) {
    for (let x = 0; x < SIDE; x++, i++) {
      const [dx, dy] = [x + 0.5 - SIDE / 2, y + 0.5 - SIDE / 2];
      const rim = 52 + 9 * Math.sin(5 * Math.atan2(dy, dx) + seed);
      alpha.data[i] = 255 * Math.min(1, Math.max(0, (rim - Math.hypot(dx, dy)) / 2 + 0.5)) + 0.5;
    }
  }
  const own = new Uint8Array(4 * SIDE * SIDE);
  const data = new Uint8Array(4 * SIDE * SIDE).fill(255);
  for (let i = 0; i < SIDE * SIDE; i++) {
    const lit = 1 - 0.06 * ((i % SIDE) / SIDE);
    const drift = 10 * Math.sin(i / 900);
    for (let c = 0; c < 3; c++) {
      const [f, b, a] = [front[c] + drift, back[c] * lit, alpha.data[i] / 255];
      own[4 * i + c] = f + 0.5;
      const light = linearToSrgb(a * srgbToLinear(f / 255) + (1 - a) * srgbToLinear(b / 255));
      const value = 255 * (mixed === 'linear light' ? light : (a * f + (1 - a) * b) / 255);
      data[4 * i + c] = Math.min(255, Math.max(0, value + noise * (next() + next() - 1) + 0.5));
    }
  }
  return { colour: makePicture(SIDE, SIDE, data), alpha, own };
}

/** Mean difference of alpha in the fringe, in 255ths. */
function fringeError({ alpha }: Taken, mask: Mask): number {
  let [sum, count] = [0, 0];
  for (let i = 0; i < alpha.data.length; i++) {
    if (alpha.data[i] < 16 || alpha.data[i] > 239) continue;
    sum += Math.abs(mask.data[i] - alpha.data[i]);
    count++;
  }
  return sum / count;
}

/** Mean difference of a channel of the subject's own colour in the fringe, in 255ths. */
function colourError({ alpha, own }: Taken, picture: Picture): number {
  let [sum, count] = [0, 0];
  for (let i = 0; i < alpha.data.length; i++) {
    if (alpha.data[i] < 77 || alpha.data[i] > 239) continue;
    for (let c = 0; c < 3; c++) sum += Math.abs(picture.data[4 * i + c] - own[4 * i + c]) / 3;
    count++;
  }
  return sum / count;
}

const SUBJECTS: [string, number[], number[]][] = [
  ['a dark green leaf on a pale card', [50, 84, 38], [232, 229, 220]],
  ['pale straw on a dark cloth', [214, 196, 140], [34, 36, 44]],
  ['a grey twig on white', [70, 70, 70], [240, 240, 240]],
];

describe('a camera mixes light, a painter values: found out at the fringe', () => {
  test.each(SUBJECTS)('%s', (_, front, back) => {
    for (const noise of [0, 5]) {
      for (const mixed of ['linear light', 'encoded values'] as const) {
        const it = taken(3, mixed, front, back, noise);
        const state = stateOf(it.colour);
        const found = after('from-backdrop', state, { edge: 4 });
        expect([mixed, found.notice]).toEqual([
          mixed,
          expect.stringMatching(mixed === 'linear light' ? /as light/ : /as sRGB/),
        ]);
        expect(fringeError(it, found.mask)).toBeLessThan(noise ? 9 : 5);
        const other = after('from-backdrop', state, {
          edge: 4,
          mixed: mixed === 'linear light' ? 'encoded values' : 'linear light',
        });
        expect(fringeError(it, other.mask)).toBeGreaterThan(2 * fringeError(it, found.mask));
        const known = stateOf(it.colour, it.alpha);
        const unmixed = after('unmix', known, { least: 0.3 });
        expect([mixed, unmixed.notice]).toEqual([
          mixed,
          expect.stringMatching(mixed === 'linear light' ? /as light/ : /as sRGB/),
        ]);
        expect(colourError(it, unmixed.colour)).toBeLessThan(noise ? 12 : 2.5);
      }
    }
  });

  test.each(SUBJECTS)('%s, from what lies around; version 1 takes it as sRGB values', (_, front, back) => {
    for (const noise of [0, 5]) {
      const it = taken(7, 'linear light', front, back, noise);
      const state = stateOf(it.colour, it.alpha);
      const params = { from: 'what lies around', least: 0.3 } as const;
      const found = after('unmix', state, params);
      expect(found.notice).toMatch(/as light/);
      expect(colourError(it, found.colour)).toBeLessThan(noise ? 4 : 2.5);
      const before = after('unmix', state, params, { ...env(), version: 1 });
      expect(colourError(it, before.colour)).toBeGreaterThan(8);
      const painted = taken(7, 'encoded values', front, back, noise);
      const same = after('unmix', stateOf(painted.colour, painted.alpha), params);
      expect(same.notice).toMatch(/as sRGB/);
    }
  });

  test('where the fringe says nothing it is taken as before', () => {
    const flat = makePicture(64, 64, new Uint8Array(64 * 64 * 4).fill(200));
    expect(after('unmix', stateOf(flat, drawShape(hair(1, 64, 4), 64, 64)), {}, env()).notice).toMatch(
      /taken as sRGB values/,
    );
  });
});
