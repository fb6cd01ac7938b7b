import { describe, expect, test } from '@jest/globals';
import {
  colourMips,
  coverageAt,
  coverageCurve,
  drawSilhouette,
  fingerprint,
  halveMask,
  halvePicture,
  histogram,
  linearToSrgb,
  makeMask,
  makePicture,
  maskMips,
  MaskTally,
  otsuThreshold,
  resize,
  srgbToLinear,
  summariseMask,
  thresholdByte,
} from '../src/testing.ts';
import { fixtureJson } from './helpers/node-codecs.ts';
import { drawMask, noiseMask, noisePicture, random } from './helpers/pictures.ts';

describe('the cutoff', () => {
  // glTF 2.0 §3.9.4: rendered where alpha ≥ alphaCutoff
  test('keeps alpha at or above it, for every byte and opacity', () => {
    for (const opacity of [1, 0.8, 0.35]) {
      for (let k = 0; k <= 500; k++) {
        const cutoff = k / 500;
        const threshold = thresholdByte(cutoff, opacity);
        for (let alpha = 0; alpha < 256; alpha++) {
          if (alpha >= threshold !== (alpha / 255) * opacity >= cutoff)
            throw new Error(`${alpha} at ${cutoff} × ${opacity}`);
        }
      }
    }
    expect([thresholdByte(0.5), thresholdByte(0), thresholdByte(1), thresholdByte(0.5, 0)]).toEqual([128, 0, 255, 256]);
  });
});

describe('histogram and coverage', () => {
  test.each([1, 2, 3])('counts every texel, seed %i', (seed) => {
    const mask = noiseMask(seed, 17, 9 + seed);
    mask.data.fill(0, 0, 40);
    mask.data.fill(255, 40, 90);
    const counts = histogram(mask);
    for (let v = 0; v < 256; v++) expect(counts[v]).toBe(mask.data.filter((a) => a === v).length);
    const curve = coverageCurve(counts);
    for (const t of [0, 1, 100, 128, 255, 256]) {
      const brute = mask.data.filter((a) => a >= t).length / mask.data.length;
      expect([curve[t], coverageAt(counts, t)]).toEqual([brute, brute]);
    }
  });

  test('Otsu 1979: the thresholds of two other libraries on three pictures', () => {
    const { histograms, otsu } = fixtureJson<{ histograms: Record<string, number[]>; otsu: Record<string, number> }>(
      'otsu.json',
    );
    for (const [name, counts] of Object.entries(histograms))
      expect(otsuThreshold(Uint32Array.from(counts))).toBe(otsu[name]);
    expect(otsuThreshold(histogram(drawMask(['##', '##'])))).toBeNull();
  });
});

describe('mip levels', () => {
  test('halve to 1 × 1, rounding down (OpenGL ES 3.0 §3.8.10)', () => {
    expect(maskMips(noiseMask(1, 13, 4)).map((l) => [l.width, l.height])).toEqual([
      [6, 2],
      [3, 1],
      [1, 1],
    ]);
    expect(colourMips(noisePicture(1, 8, 8)).map((l) => l.width)).toEqual([4, 2, 1]);
  });

  test('an even mask is the rounded mean of four', () => {
    const mask = noiseMask(2, 10, 6);
    const half = halveMask(mask);
    for (let y = 0; y < 3; y++) {
      for (let x = 0; x < 5; x++) {
        const at = (i: number, j: number) => mask.data[(2 * y + j) * 10 + 2 * x + i];
        expect(half.data[y * 5 + x]).toBe(Math.floor((at(0, 0) + at(1, 0) + at(0, 1) + at(1, 1)) / 4 + 0.5));
      }
    }
  });

  test('an odd size counts every texel the same', () => {
    // one lit texel anywhere adds 255 / 15 · 6 to the sum of the half, whatever its place (5 × 3 to 2 × 1)
    for (let i = 0; i < 15; i++) {
      const mask = makeMask(5, 3, new Uint8Array(15));
      mask.data[i] = 255;
      const sum = halveMask(mask).data.reduce((a, b) => a + b, 0);
      expect(Math.abs(sum - (255 / 15) * 2)).toBeLessThanOrEqual(1);
    }
  });

  test('colour is averaged in linear light, alpha as it is, neither weighing the other', () => {
    const picture = makePicture(
      2,
      2,
      Uint8Array.of(0, 10, 255, 0, 255, 10, 255, 255, 0, 10, 255, 0, 255, 10, 255, 255),
    );
    const expected = Math.round(255 * linearToSrgb(0.5)); // 188: half of full light, not code 128
    expect(Array.from(halvePicture(picture).data)).toEqual([expected, 10, 255, 128]);
    expect(srgbToLinear(expected / 255)).toBeCloseTo(0.5, 2);
    const odd = noisePicture(3, 7, 5);
    const half = halvePicture(odd);
    const share = (from: number, to: number, i: number, o: number) =>
      Math.max(0, Math.min(((o + 1) * from) / to, i + 1) - Math.max((o * from) / to, i)) / (from / to);
    for (let o = 0; o < 3 * 2; o++) {
      const sums = [0, 0, 0, 0]; // by the area of each texel under the one below
      for (let i = 0; i < 7 * 5; i++) {
        const area = share(7, 3, i % 7, o % 3) * share(5, 2, Math.floor(i / 7), Math.floor(o / 3));
        for (let c = 0; c < 4; c++) {
          const v = odd.data[4 * i + c] / 255;
          sums[c] += area * (c < 3 ? srgbToLinear(v) : v);
        }
      }
      for (let c = 0; c < 4; c++) {
        const wanted = 255 * (c < 3 ? linearToSrgb(sums[c]) : sums[c]);
        expect(Math.abs(half.data[4 * o + c] - wanted)).toBeLessThan(0.6);
      }
    }
    expect(halvePicture(makePicture(1, 3, Uint8Array.of(9, 9, 9, 9, 9, 9, 9, 9, 9, 9, 9, 9))).data).toEqual(
      Uint8Array.of(9, 9, 9, 9),
    );
  });
});

describe('summary', () => {
  test('border and middle are counted apart', () => {
    const mask = drawMask([
      '########',
      '#......#',
      '#......#',
      '#......#',
      '#......#',
      '#......#',
      '#......#',
      '########',
    ]);
    const { border, middle, levels } = summariseMask([mask]);
    expect([border[255], border[0]]).toEqual([28, 0]);
    expect([middle[255], middle[0]]).toEqual([0, 16]);
    const grey = new Uint8Array(64);
    drawSilhouette(levels[0].silhouette, 128, grey);
    expect(Array.from(grey)).toEqual(Array.from(mask.data));
  });

  test('a silhouette shows the share kept', () => {
    const mask = makeMask(156, 156, new Uint8Array(156 * 156));
    mask.data.fill(255, 0, 156 * 78);
    const { silhouette } = summariseMask([mask]).levels[0];
    const grey = new Uint8Array(silhouette.width * silhouette.height);
    drawSilhouette(silhouette, 128, grey);
    expect([silhouette.width, grey[0], grey[78 * 77]]).toEqual([78, 255, 0]);
  });
});

test('fingerprints tell one texel, the size and a swap apart', () => {
  const mask = noiseMask(9, 20, 10);
  const other = { ...mask, data: mask.data.slice() };
  expect(fingerprint(other)).toBe(fingerprint(mask));
  other.data[77] ^= 1;
  expect(fingerprint(other)).not.toBe(fingerprint(mask));
  expect(fingerprint({ ...mask, width: 10, height: 20 })).not.toBe(fingerprint(mask));
  expect(fingerprint(mask)).toMatch(/^[0-9a-f]{16}$/);
});

test('resizing keeps a flat picture flat and a ramp a ramp', () => {
  expect(new Set(resize(drawMask(['++++', '++++']), 7, 3).data)).toEqual(new Set([128]));
  const ramp = makeMask(4, 1, Uint8Array.of(0, 80, 160, 240));
  expect(Array.from(resize(ramp, 2, 1).data)).toEqual([57, 183]); // tent of radius 2, cut at the border
  expect(Array.from(resize(ramp, 8, 1).data)).toEqual([0, 20, 60, 100, 140, 180, 220, 240]);
});

test.each([
  [300, 270],
  [512, 64],
  [301, 77],
])(
  'a tally of %d × %d that is refreshed where the mask changed says what a look at the whole says',
  (width, height) => {
    const mask = noiseMask(3, width, height);
    const tally = new MaskTally([mask, ...maskMips(mask)]);
    const next = random(5);
    for (let round = 0; round < 3; round++) {
      const parts = Array.from({ length: round + 1 }, () => {
        const x0 = Math.floor(next() * width);
        const y0 = Math.floor(next() * height);
        const [x1, y1] = [Math.min(width, x0 + 1 + Math.floor(90 * next())), Math.min(height, y0 + 40)];
        for (let y = y0; y < y1; y++) mask.data.fill(Math.floor(256 * next()), y * width + x0, y * width + x1);
        return { x0, y0, x1, y1 };
      });
      tally.refresh(parts);
      const whole = [mask, ...maskMips(mask)];
      expect(tally.chain).toEqual(whole);
      expect(tally.summary()).toEqual(summariseMask(whole));
    }
  },
);
