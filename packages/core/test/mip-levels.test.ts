import { describe, expect, test } from '@jest/globals';
import {
  colourLevels,
  coverageAt,
  diffusedAlpha,
  filteredColourMips,
  filteredMaskMips,
  filterTaps,
  filterWeight,
  histogram,
  LEVEL_DEFAULTS,
  levelFigures,
  makeLevels,
  makeMask,
  makePicture,
  maskMips,
  methodFigures,
  METHODS,
  MIP_FILTERS,
  scaledToCoverage,
  srgbToLinear,
  type LevelSettings,
  type Picture,
} from '../src/testing.ts';
import { noiseMask } from './helpers/pictures.ts';
import { drawShape, net } from './helpers/webs.ts';

describe('filters', () => {
  test('Lanczos of three lobes: sinc x · sinc x/3 (Duchon 1979)', () => {
    // sin(π/2) / (π/2) · sin(π/6) / (π/6) = 2/π · 3/π
    expect(filterWeight('Lanczos', 0.5)).toBeCloseTo(6 / Math.PI ** 2, 12);
    expect([0, 1, 2, 3, 4].map((x) => Math.abs(filterWeight('Lanczos', x)) < 1e-12)).toEqual([
      ...[false, true, true, true, true],
    ]);
  });

  test('Kaiser: the window falls to 1 / I₀(4) at its end', () => {
    // Abramowitz and Stegun, Handbook of Mathematical Functions, table 9.8: e⁻⁴ I₀(4) = 0.2070019212 (mem)
    const end = 2.999999;
    const sinc = Math.sin(Math.PI * end) / (Math.PI * end);
    expect(sinc / filterWeight('Kaiser', end)).toBeCloseTo(0.2070019212 * Math.exp(4), 2);
  });

  test.each(MIP_FILTERS)('%s: weights add up to 1 and are symmetric; box and sizes as OpenGL ES has them', (filter) => {
    for (const [from, to] of [
      [8, 4],
      [9, 4],
      [7, 3],
      [1, 1],
    ]) {
      const { count, weight } = filterTaps(filter, from, to, 'clamp');
      for (let o = 0; o < to; o++) {
        const own = Array.from(weight.subarray(o * count, (o + 1) * count));
        expect(own.reduce((a, b) => a + b)).toBeCloseTo(1, 12);
      }
      if (from === 2 * to) {
        const own = Array.from(weight.subarray(0, count)).filter((w) => w !== 0);
        expect(own.toReversed().map((w) => w.toFixed(9))).toEqual(own.map((w) => w.toFixed(9)));
      }
    }
    // OpenGL ES 3.0 §3.8.10.4: each side max(1, ⌊side / 2⌋)
    const sizes = filteredMaskMips(noiseMask(1, 9, 5), { filter }).map((m) => [m.width, m.height]);
    expect(sizes).toEqual([
      [4, 2],
      [2, 1],
      [1, 1],
    ]);
  });

  test('the box is the plain average, of even and of odd sides', () => {
    for (const [w, h] of [
      [64, 32],
      [37, 21],
    ]) {
      const mask = noiseMask(5, w, h);
      const plain = maskMips(mask);
      for (const [i, level] of filteredMaskMips(mask, { filter: 'box' }).entries()) {
        for (let k = 0; k < level.data.length; k++)
          expect(Math.abs(level.data[k] - plain[i].data[k])).toBeLessThanOrEqual(1);
      }
    }
  });

  test('repeat, mirror and clamp read what lies beside the picture', () => {
    const row = makeMask(8, 1, Uint8Array.of(255, 0, 0, 0, 0, 0, 0, 0));
    const level = (wrapAcross: 'repeat' | 'mirror' | 'clamp') =>
      Array.from(filteredMaskMips(row, { filter: 'triangle', wrapAcross })[0].data);
    // a triangle over 4 texels: 1/8, 3/8, 3/8, 1/8
    expect(level('clamp')).toEqual([128, 0, 0, 0].map((v, i) => (i === 0 ? Math.floor((255 * 4) / 8 + 0.5) : v)));
    expect(level('repeat')).toEqual([Math.floor((255 * 3) / 8 + 0.5), 0, 0, Math.floor(255 / 8 + 0.5)]);
    expect(level('mirror')).toEqual(level('clamp'));
  });

  test('colour is averaged in linear light and weighted by alpha; where nothing is kept, as it is', () => {
    const picture = makePicture(
      2,
      2,
      Uint8Array.of(...[255, 0, 0, 255], ...[0, 255, 0, 0], ...[0, 0, 0, 255], ...[9, 9, 9, 0]),
    );
    const [level] = filteredColourMips(picture, { filter: 'box' });
    const [red, green, blue, alpha] = level.data;
    expect([green, blue, alpha]).toEqual([0, 0, 128]);
    expect(srgbToLinear(red / 255)).toBeCloseTo(0.5, 2);
    const hidden = makePicture(2, 1, Uint8Array.of(...[200, 10, 30, 0], ...[200, 10, 30, 0]));
    expect(Array.from(filteredColourMips(hidden, { filter: 'box' })[0].data)).toEqual([200, 10, 30, 0]);
  });
});

describe('keep coverage', () => {
  const mask = drawShape(net(19, 4), 256, 256);
  const whole = coverageAt(histogram(mask), 128);

  test('per-level scale, as Castaño 2010: the factor whose coverage is nearest to level 0', () => {
    for (const level of maskMips(mask).slice(0, 5)) {
      const scaled = scaledToCoverage(level, 128, whole);
      const got = Math.abs(coverageAt(histogram(scaled), 128) - whole);
      for (let cut = 1; cut < 256; cut++) {
        expect(got).toBeLessThanOrEqual(Math.abs(coverageAt(histogram(level), cut) - whole) + 1e-12);
      }
    }
  });

  test('error diffusion, as Yuksel 2018: all or nothing, and as many kept as the mean alpha says', () => {
    for (const level of maskMips(mask).slice(0, 4)) {
      const { data } = diffusedAlpha(level);
      const mean = level.data.reduce((a, b) => a + b, 0) / 255;
      expect(data.every((v) => v === 0 || v === 255)).toBe(true);
      expect(Math.abs(data.reduce((a, b) => a + b, 0) / 255 - mean)).toBeLessThan(level.width / 8 + 2);
    }
  });
});

describe('a level by itself', () => {
  const mask = drawShape(net(19, 4), 64, 64);
  const clip = { mode: 'mask' as const, cutoff: 0.5, opacity: 1 };
  const settings = (own: Partial<LevelSettings>): LevelSettings => ({ ...LEVEL_DEFAULTS, madeBy: 'file', ...own });
  const picture = (side: number, texel: (i: number) => number[]): Picture =>
    makePicture(
      side,
      side,
      Uint8Array.from({ length: 4 * side * side }, (_, i) => texel(i >> 2)[i % 4]),
    );
  const sources = new Map([
    ['alpha', picture(16, (i) => [9, 99, 199, i % 251])],
    ['grey', picture(32, (i) => [i % 2, i % 2, i % 2, 1].map((v) => 255 * v))],
  ]);
  const sourceOf = (id: string) => sources.get(id) ?? null;
  const plain = makeLevels(mask, clip, settings({})).levels;

  test('comes from a source: its alpha and colour, or its luminance where it is all opaque, scaled to the level', () => {
    const own = settings({
      replaced: [
        { level: 2, sourceId: 'alpha' },
        { level: 3, sourceId: 'grey' },
        { level: 4, sourceId: 'gone' },
      ],
    });
    const { levels } = makeLevels(mask, clip, own, { sourceOf });
    expect(levels[2].data).toEqual(Uint8Array.from({ length: 256 }, (_, i) => i % 251));
    const inside = levels[3].data.filter((_, i) => i % 8 > 0 && i % 8 < 7);
    expect(new Set(inside)).toEqual(new Set([127, 128])); // the mean of black and white
    for (const other of [0, 1, 4, 5, 6]) expect(levels[other]).toEqual(plain[other]);
    const colour = picture(64, (i) => [i % 200, 50, 60, 255]);
    const colours = colourLevels(colour, mask, { levels: own }, { sourceOf });
    const made = colourLevels(colour, mask, { levels: settings({}) });
    expect([...colours[2].data.subarray(0, 3)]).toEqual([9, 99, 199]);
    for (const other of [1, 3, 4]) expect(colours[other]).toEqual(made[other]); // a mask has no colour to give
  });

  test('is painted over, at the size that it was painted at', () => {
    const painted = [{ level: 3, width: 8, height: 8, kept: [0, 9], dropped: [63, 1_000_000] }];
    const { levels } = makeLevels(mask, clip, settings({ painted }));
    expect(levels[3].data).toEqual(plain[3].data.map((v, i) => (i === 0 || i === 9 ? 255 : i === 63 ? 0 : v)));
    const elsewhere = [{ ...painted[0], width: 16, height: 4 }];
    expect(makeLevels(mask, clip, settings({ painted: elsewhere })).levels).toEqual(plain);
    // what the target makes itself is its own
    expect(makeLevels(mask, clip, settings({ painted, madeBy: 'target' })).levels[3]).toEqual(maskMips(mask)[2]);
  });

  test('every way to make them is judged by its levels down to 32 texels; a picture of none has nothing to judge', () => {
    const big = drawShape(net(19, 4), 256, 256);
    for (const method of METHODS) {
      const figures = methodFigures(big, clip, LEVEL_DEFAULTS, method)!;
      const { levels } = makeLevels(big, clip, { ...LEVEL_DEFAULTS, ...method });
      const judged = levelFigures(big, levels.slice(1, 4), 128);
      expect(figures.drift).toBe(Math.max(...judged.map((f) => Math.abs(f.drift))));
      expect(figures.silhouetteError).toBeCloseTo(judged.reduce((sum, f) => sum + f.silhouetteError, 0) / 3, 12);
    }
    expect(methodFigures(makeMask(40, 1, new Uint8Array(40)), clip, LEVEL_DEFAULTS, METHODS[0])).toBeNull();
  });
});
