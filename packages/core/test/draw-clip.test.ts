import { describe, expect, test } from '@jest/globals';
import { drawClip, makeMask, SAMPLE_COUNTS, thresholdByte, type ClipDrawing, type Mask } from '../src/index.ts';
import { bayerMatrix } from '../src/math/bayer.ts';
import { hashedThresholds } from '../src/sieve/drawn/hashed.ts';
import { noiseMask, random } from './helpers/pictures.ts';

const CLIP = { cutoff: 0.5, opacity: 1 };
const draw = (mask: Mask, by: ClipDrawing['by'], clip = CLIP, samples: ClipDrawing['samples'] = 4) =>
  drawClip(mask, clip, { by, samples });
const flat = (alpha: number, side = 256) => makeMask(side, side, new Uint8Array(side * side).fill(alpha));
const share = ({ data }: Mask) => data.reduce((sum, v) => sum + v, 0) / data.length / 255;

test('hard is the clip itself', () => {
  const mask = noiseMask(3, 40, 30);
  for (const clip of [CLIP, { cutoff: 0, opacity: 1 }, { cutoff: 1, opacity: 1 }, { cutoff: 0.4, opacity: 0.6 }]) {
    const threshold = thresholdByte(clip.cutoff, clip.opacity);
    expect(draw(mask, 'hard', clip).data).toEqual(mask.data.map((v) => (v >= threshold ? 255 : 0)));
  }
});

describe('ordered dither', () => {
  test('4 × 4 as published (Bayer 1973)', () => {
    expect(bayerMatrix(4)).toEqual([0, 8, 2, 10, 12, 4, 14, 6, 3, 11, 1, 9, 15, 7, 13, 5]);
    expect(bayerMatrix(2)).toEqual([0, 2, 3, 1]);
    expect(bayerMatrix(8).toSorted((a, b) => a - b)).toEqual(Array.from({ length: 64 }, (_, i) => i));
  });

  test('every alpha covers as many of 64 pixels as it is worth, to half a pixel', () => {
    for (let alpha = 0; alpha < 256; alpha++) {
      const kept = 64 * share(draw(flat(alpha, 8), 'ordered'));
      expect(Math.abs(kept - (64 * alpha) / 255)).toBeLessThanOrEqual(0.5 + 1e-9);
    }
  });
});

describe('hashed', () => {
  test('thresholds are evenly distributed at every scale, between two of them too (Wyman, McGuire 2017)', () => {
    const next = random(9);
    for (const pixel of [1 / 256, 1 / 300, 1 / 362, 1 / 480]) {
      const thresholdAt = hashedThresholds(pixel);
      const tenths = new Array<number>(10).fill(0);
      const count = 40_000;
      for (let i = 0; i < count; i++) {
        const at = thresholdAt(next() * 400, next() * 400);
        tenths[at > 0 && at <= 1 ? Math.min(9, Math.floor(10 * at)) : NaN]++;
      }
      expect(tenths.reduce((sum, n) => sum + n, 0)).toBe(count); // none beyond 0–1
      // χ² of nine degrees of freedom: 27.9 is passed once in a thousand times
      const chi = tenths.reduce((sum, n) => sum + (n - count / 10) ** 2 / (count / 10), 0);
      expect(chi).toBeLessThan(27.9);
    }
  });

  test('keeps each pixel as often as its alpha, whatever the cutoff is; the opacity factor counts', () => {
    for (const alpha of [0, 40, 128, 230, 255]) {
      expect(share(draw(flat(alpha), 'hashed'))).toBeCloseTo(alpha / 255, 1.7);
      expect(draw(flat(alpha), 'hashed', { cutoff: 0.9, opacity: 1 })).toEqual(draw(flat(alpha), 'hashed'));
    }
    expect(share(draw(flat(255), 'hashed', { cutoff: 0.5, opacity: 0.3 }))).toBeCloseTo(0.3, 1.7);
  });
});

describe('alpha to coverage', () => {
  const ramp = makeMask(
    64,
    64,
    Uint8Array.from({ length: 4096 }, (_, i) =>
      Math.max(0, Math.min(255, 7.3 * ((i % 64) + Math.floor(i / 64) / 2.9 - 32))),
    ),
  );

  test.each(SAMPLE_COUNTS)('%d samples give that many coverages and one more', (samples) => {
    const drawn = draw(ramp, 'coverage', { cutoff: 0.5, opacity: 1 }, samples);
    const values = [...new Set(drawn.data)].sort((a, b) => a - b);
    expect(values).toEqual(Array.from({ length: samples + 1 }, (_, k) => Math.round((255 * k) / samples)));
  });

  test('the edge is about a pixel wide where alpha takes many, and lies at the cutoff', () => {
    for (const cutoff of [0.3, 0.5, 0.7]) {
      const { data } = draw(ramp, 'coverage', { cutoff, opacity: 1 }, 8);
      for (let y = 0; y < 64; y++) {
        const row = data.subarray(64 * y, 64 * y + 64);
        expect(row.filter((v) => v > 0 && v < 255).length).toBeLessThanOrEqual(3);
        const edge = 64 - row.reduce((sum, v) => sum + v, 0) / 255; // the first whole pixel, as a fraction
        const wanted = (255 * cutoff) / 7.3 + 32 - y / 2.9 + 0.5;
        expect(Math.abs(edge - wanted)).toBeLessThan(0.6);
      }
    }
  });

  test('a cutoff of 0 covers all; what nothing reaches covers none; one texel is clipped hard', () => {
    const mask = noiseMask(8, 16, 16);
    expect(share(draw(mask, 'coverage', { cutoff: 0, opacity: 1 }))).toBe(1);
    expect(share(draw(mask, 'coverage', { cutoff: 1, opacity: 0.2 }))).toBe(0);
    for (const alpha of [127, 128]) {
      expect(draw(makeMask(1, 1, Uint8Array.of(alpha)), 'coverage').data).toEqual(
        Uint8Array.of(alpha === 128 ? 255 : 0),
      );
    }
  });
});
