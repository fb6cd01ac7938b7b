import { describe, expect, test } from '@jest/globals';
import sharp from 'sharp';
import {
  coverageAt,
  filteredMaskMips,
  fingerprint,
  histogram,
  holdAtDistance,
  isSieveError,
  levelFigures,
  localCoverage,
  makeMask,
  maskMips,
  scaledToCoverage,
  MIP_FILTERS,
  type Mask,
  type MipFilter,
} from '../src/testing.ts';
import { emptyPlane, halve, spread, tapsOutwards } from '../src/sieve/hold/planes.ts';
import { noiseMask } from './helpers/pictures.ts';
import { disc, drawShape, edgeShift, hair, lace, net, type Shape } from './helpers/webs.ts';

const SIDE = 256;
const SHAPES: [string, Shape][] = [
  ['net', net(36, 5)],
  ['lace', lace(44.3, 2.6)],
  ['hair', hair(7, SIDE, 30)],
];

function flips(a: Mask, b: Mask, threshold: number): number {
  let count = 0;
  for (let i = 0; i < a.data.length; i++) if (a.data[i] >= threshold !== b.data[i] >= threshold) count++;
  return count;
}

const mean = (values: number[]) => values.reduce((a, b) => a + b, 0) / values.length;

describe('hold at distance', () => {
  test.each(SHAPES)('%s: no texel changes side, plain levels keep the share in every place, edges stay', (_, shape) => {
    const mask = drawShape(shape, SIDE, SIDE);
    const held = holdAtDistance(mask, { cutoff: 0.5 });
    expect(flips(mask, held.mask, 128)).toBe(0);
    const levels = maskMips(mask).slice(0, held.levels.length);
    const figures = levelFigures(mask, maskMips(held.mask).slice(0, levels.length), 128);
    const untouched = levelFigures(mask, levels, 128);
    const whole = untouched[0].coverage - untouched[0].drift;
    const scaled = levelFigures(
      mask,
      levels.map((level) => scaledToCoverage(level, 128, whole)),
      128,
    );
    const near = figures.filter((f) => f.width >= 32);
    for (const f of near) expect(Math.abs(f.drift)).toBeLessThan(0.005);
    expect(Math.max(...untouched.map((f) => Math.abs(f.drift)))).toBeGreaterThan(0.05); // there was something to hold
    expect(mean(near.map((f) => f.localError))).toBeLessThan(0.6 * mean(scaled.slice(0, 3).map((f) => f.localError)));
    expect(edgeShift(held.mask, 128, shape)).toBeLessThan(0.18);
    expect(edgeShift(mask, 128, shape)).toBeLessThan(edgeShift(held.mask, 128, shape));
  });

  test.each([
    ['net', net(36, 5), 0.6],
    ['fine net', net(28, 4), 0.6],
    ['hair', hair(7, 512, 60), 0.6],
    ['thick hair', hair(7, 512, 40), 0.6],
    ['thin lace', lace(44.3, 2.6), 0.65],
    ['lace', lace(61, 7), 0.8],
    ['leaf', disc(256, 256, 200), 1],
  ])('%s: as a renderer samples, between texels and levels, closer than plain levels', (_, shape, left) => {
    const mask = drawShape(shape, 512, 512);
    const sampled = (of: Mask) =>
      mean(
        levelFigures(mask, maskMips(of), 128)
          .slice(0, 3)
          .map((f) => f.sampledError),
      );
    const held = holdAtDistance(mask, { cutoff: 0.5, filter: 'box' }).mask;
    for (const by of [held, holdAtDistance(mask, { cutoff: 0.5 }).mask]) {
      expect(sampled(by)).toBeLessThan(left * sampled(mask) + 0.001);
    }
    expect(edgeShift(held, 128, shape)).toBeLessThan(0.15);
    const before = holdAtDistance(mask, { cutoff: 0.5, filter: 'box', version: 1 }).mask;
    expect(sampled(held)).toBeLessThan(sampled(before));
  });

  test('sampled figures are those of bilinear filtering by brute force', () => {
    const mask = noiseMask(5, 24, 16);
    const [one, two] = maskMips(mask);
    const at = ({ width, height, data }: Mask, x: number, y: number) => {
      const [u, v] = [Math.min(width - 1, Math.max(0, x)), Math.min(height - 1, Math.max(0, y))];
      const [i, j] = [Math.floor(u), Math.floor(v)];
      const [k, l] = [Math.min(width - 1, i + 1), Math.min(height - 1, j + 1)];
      const upper = data[j * width + i] * (1 - u + i) + data[j * width + k] * (u - i);
      return upper * (1 - v + j) + (data[l * width + i] * (1 - u + i) + data[l * width + k] * (u - i)) * (v - j);
    };
    let off = 0;
    for (let w = 0; w < 6; w++) {
      let [seen, kept] = [0, 0];
      for (let k = 0; k < 256; k++) {
        const [x, y] = [(w % 3) * 4 + ((k % 16) + 0.5) / 4, Math.floor(w / 3) * 4 + (Math.floor(k / 16) + 0.5) / 4];
        if (at(one, x - 0.5, y - 0.5) / 2 + at(two, x / 2 - 0.5, y / 2 - 0.5) / 2 >= 127.5) seen++;
      }
      for (let k = 0; k < 64; k++) {
        if (mask.data[(Math.floor(w / 3) * 8 + (k >> 3)) * 24 + (w % 3) * 8 + (k & 7)] >= 128) kept++;
      }
      off += Math.abs(seen / 256 - kept / 64) / 6;
    }
    expect(levelFigures(mask, [one, two], 128)[0].sampledError).toBeCloseTo(off, 3);
  });

  test('a piece that was held by an earlier version keeps its texels', () => {
    const mask = drawShape(lace(44.3, 2.6), SIDE, SIDE);
    const held = (version?: number) => fingerprint(holdAtDistance(mask, { cutoff: 0.5, filter: 'box', version }).mask);
    expect(held(1)).toBe('7a65f5434d651a79'); // computed before there was a second
    expect(held(2)).toBe('230da37a1bf3c763'); // computed before there was a third
    expect(held()).not.toBe(held(2));
  });

  test('another library counts the same coverage on every level', async () => {
    const mask = drawShape(lace(44.3, 2.6), SIDE, SIDE);
    const levels = maskMips(holdAtDistance(mask, { cutoff: 0.5 }).mask);
    for (const [i, { width, height, coverage }] of levelFigures(mask, levels, 128).entries()) {
      const raw = { raw: { width, height, channels: 1 as const } };
      const clipped = await sharp(levels[i].data, raw).threshold(128).toColourspace('b-w').raw().toBuffer();
      const { channels } = await sharp(clipped, raw).stats();
      expect(channels[0].mean / 255).toBeCloseTo(coverage, 10);
    }
  });

  // largest drift under the wider filters, of a mask held for plain averages alone, and held for both
  test.each([
    ['net', net(36, 5), 0.03, 0.01],
    ['lace', lace(44.3, 2.6), 0.08, 0.05],
    ['hair', hair(7, SIDE, 30), 0.02, 0.01],
  ])('%s: holds under filters of Kaiser and Lanczos too', (_, shape, without, left) => {
    const mask = drawShape(shape, SIDE, SIDE);
    const drift = (of: Mask, filter: MipFilter) => {
      const levels = filteredMaskMips(of, { filter });
      const near = levelFigures(mask, levels, 128).filter((f) => f.width >= 32);
      return Math.max(...near.map((f) => Math.abs(f.drift)));
    };
    const held = holdAtDistance(mask, { cutoff: 0.5 }).mask; // of this size for both
    const plainly = holdAtDistance(mask, { cutoff: 0.5, filter: 'box' }).mask;
    for (const filter of ['Kaiser', 'Lanczos'] as const) {
      expect(drift(plainly, filter)).toBeGreaterThan(without);
      expect(drift(held, filter)).toBeLessThan(left);
    }
    expect(flips(mask, held, 128)).toBe(0);
  });

  test('whole numbers halve a level as the filter itself does, within an alpha', () => {
    const mask = noiseMask(7, 96, 64);
    for (const filter of MIP_FILTERS) {
      const out = emptyPlane({ width: 48, height: 32 });
      halve(mask.data, tapsOutwards(filter), 8, out);
      const wanted = filteredMaskMips(mask, { filter })[0].data;
      const off = wanted.map((v, i) => Math.abs(Math.max(0, Math.min(255, out.data[i] / 256)) - v));
      expect(Math.max(...off)).toBeLessThan(1);
      // handed back, by the same weights: <halve a, b> = <a, spread b>, but for what borders are clamped to
      const back = emptyPlane({ width: 96, height: 64 });
      const one = emptyPlane({ width: 48, height: 32 });
      one.data[48 * 13 + 20] = 65536;
      spread(one, tapsOutwards(filter), 1, back);
      const sum = back.data.reduce((total, v, i) => total + (v / 256) * mask.data[i], 0);
      expect(Math.abs(sum / 256 - out.data[48 * 13 + 20] / 256)).toBeLessThan(1);
    }
  });

  test('half the strength moves edges less; none leaves the mask as it is', () => {
    const shape = hair(7, 256, 30);
    const mask = drawShape(shape, 256, 256);
    const [none, half, full] = [0, 0.5, 1].map((strength) => holdAtDistance(mask, { cutoff: 0.5, strength }).mask);
    expect(none.data).toEqual(mask.data);
    expect(edgeShift(half, 128, shape)).toBeLessThan(edgeShift(full, 128, shape));
  });

  test('levels below the last that is cared for cost nothing', () => {
    const mask = drawShape(net(36, 5), 256, 256);
    const { levels } = holdAtDistance(mask, { cutoff: 0.5, downTo: 64 });
    expect(levels.map((l) => l.width)).toEqual([128, 64]);
  });

  test.each([
    [1, 1],
    [1, 37],
    [64, 1],
    [37, 53],
    [200, 120],
    [255, 256],
  ])('%i × %i, any cutoff: no texel changes side', (width, height) => {
    const mask = drawShape(disc(width / 2, height / 2, Math.min(width, height) / 3), width, height);
    const noise = noiseMask(3, width, height);
    for (const cutoff of [0.004, 0.25, 0.5, 0.9, 1]) {
      for (const m of [mask, noise])
        expect(flips(m, holdAtDistance(m, { cutoff }).mask, Math.ceil(cutoff * 255))).toBe(0);
    }
  });

  // the first two are even once or thrice; the last shares the texels of level 0 at once
  test.each([
    [500, 374, 0.005, 0.15],
    [1000, 750, 0.02, 0.15],
    [375, 375, 0.005, 0.15],
  ])('%d × %d shares texels between means: nearly all of the drift goes', (width, height, left, without) => {
    const mask = drawShape(lace(44.3, 2.6), width, height);
    const held = holdAtDistance(mask, { cutoff: 0.5 });
    const drift = (of: Mask) => {
      const figures = levelFigures(mask, maskMips(of), 128).filter((f) => Math.max(f.width, f.height) >= 32);
      return Math.max(...figures.map((f) => Math.abs(f.drift)));
    };
    expect(drift(held.mask)).toBeLessThan(left);
    expect(drift(mask)).toBeGreaterThan(without);
    expect(held.unreachable).toBeGreaterThan(0);
  });

  test('all kept, all dropped, cutoffs 0 and 1 and a factor of 0 leave nothing to do', () => {
    const [kept, dropped] = [255, 0].map((v) => makeMask(64, 64, new Uint8Array(4096).fill(v)));
    for (const mask of [kept, dropped]) {
      for (const options of [{ cutoff: 0 }, { cutoff: 0.5 }, { cutoff: 1 }, { cutoff: 0.5, opacity: 0 }]) {
        const held = holdAtDistance(mask, options);
        expect(held.mask.data).toEqual(mask.data);
        expect(held.unreachable).toBe(0);
      }
    }
  });

  test('one kept texel far from any other cannot be held: it is counted', () => {
    const mask = makeMask(64, 64, new Uint8Array(4096));
    mask.data[64 * 20 + 20] = 255;
    expect(holdAtDistance(mask, { cutoff: 0.5 }).unreachable).toBe(0); // its share rounds to no texel of any level
    for (let y = 0; y < 64; y += 8) for (let x = 0; x < 64; x += 8) mask.data[64 * y + x] = 128;
    const dots = holdAtDistance(mask, { cutoff: 0.5, strength: 0.05 });
    expect(dots.unreachable).toBeGreaterThan(0);
  });

  test('values outside 0 to 1 are refused', () => {
    const mask = noiseMask(1, 8, 8);
    for (const options of [
      { cutoff: -0.1 },
      { cutoff: NaN },
      { cutoff: 0.5, opacity: 2 },
      { cutoff: 0.5, strength: 9 },
    ]) {
      let caught: unknown;
      try {
        holdAtDistance(mask, options);
      } catch (error) {
        caught = error;
      }
      expect(isSieveError(caught, 'out-of-range')).toBe(true);
    }
  });
});

describe('levels of our own', () => {
  test.each(SHAPES)('%s, locally: far less than the per-level scale’s error, by any filter', (_, shape) => {
    const mask = drawShape(shape, SIDE, SIDE);
    for (const filter of ['box', 'Lanczos'] as const) {
      const plain = filteredMaskMips(mask, { filter });
      const whole = coverageAt(histogram(mask), 128);
      const ours = levelFigures(mask, localCoverage(mask, plain, 128), 128).slice(0, 3);
      const scaled = levelFigures(
        mask,
        plain.map((level) => scaledToCoverage(level, 128, whole)),
        128,
      ).slice(0, 3);
      for (const f of ours) expect(Math.abs(f.drift)).toBeLessThan(0.005);
      expect(mean(ours.map((f) => f.localError))).toBeLessThan(0.6 * mean(scaled.map((f) => f.localError)));
    }
  });
});
