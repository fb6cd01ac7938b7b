import { describe, expect, test } from '@jest/globals';
import {
  coverageAt,
  histogram,
  makeMask,
  maskMips,
  otsuThreshold,
  suggestCutoffs,
  summariseMask,
  thinnestConnection,
  thresholdByte,
  type Mask,
} from '../src/testing.ts';
import { noiseMask } from './helpers/pictures.ts';
import { drawShape, hair } from './helpers/webs.ts';

const suggest = (mask: Mask, opacity = 1) =>
  suggestCutoffs({
    levels: summariseMask([mask, ...maskMips(mask)]).levels,
    opacity,
    thinnest: thinnestConnection(mask),
  });

/** Two blocks of 255 with a bridge between them. */
function bridged(alphas: number[]): Mask {
  const mask = makeMask(40, 12, new Uint8Array(480));
  for (let y = 1; y < 11; y++) for (let x = 1; x < 12; x++) mask.data[40 * y + x] = mask.data[40 * y + 39 - x] = 255;
  for (let x = 12; x < 28; x++) mask.data[40 * 6 + x] = alphas[x % alphas.length];
  return mask;
}

describe('the thinnest connection', () => {
  test('is the lowest alpha of the best way between two parts', () => {
    expect(thinnestConnection(bridged([200, 90, 160]))).toBe(90);
    const mask = bridged([90]);
    for (let x = 12; x < 28; x++) mask.data[40 * 9 + x] = 140; // a better way
    expect(thinnestConnection(mask)).toBe(140);
  });

  test('is none of one part, of separate parts, and of specks', () => {
    expect(thinnestConnection(bridged([255]))).toBe(255);
    expect(thinnestConnection(bridged([3]))).toBeNull();
    const block = makeMask(20, 20, new Uint8Array(400).fill(255));
    expect(thinnestConnection(block)).toBeNull();
  });

  test('of a large mask a thread is not lost', () => {
    const mask = makeMask(3000, 60, new Uint8Array(180_000));
    for (let y = 0; y < 60; y++)
      for (let x = 0; x < 300; x++) mask.data[3000 * y + x] = mask.data[3000 * y + 2999 - x] = 255;
    for (let x = 0; x < 3000; x++) mask.data[3000 * 31 + x] ||= 120;
    expect(thinnestConnection(mask)).toBe(120);
  });
});

describe('suggested cutoffs', () => {
  const mask = drawShape(hair(3, 128, 16), 128, 128);
  const counts = histogram(mask);

  test('the usual one, and Otsu’s (checked against two libraries in sieve.test.ts)', () => {
    const found = suggest(mask);
    expect(found.find((s) => s.kind === 'usual')?.cutoff).toBe(0.5);
    const { cutoff } = found.find((s) => s.kind === 'otsu')!;
    expect(thresholdByte(cutoff)).toBe(otsuThreshold(counts)! + 1);
  });

  test('true area: no other byte keeps a share nearer to the mean alpha, at any opacity', () => {
    const mean = mask.data.reduce((a, b) => a + b, 0) / mask.data.length / 255;
    for (const opacity of [1, 0.7]) {
      const byte = thresholdByte(suggest(mask, opacity).find((s) => s.kind === 'true-area')!.cutoff, opacity);
      const off = Math.abs(coverageAt(counts, byte) - mean);
      for (let t = 1; t < 256; t++) expect(off).toBeLessThanOrEqual(Math.abs(coverageAt(counts, t) - mean) + 1e-12);
    }
  });

  test('steadiest: the largest drift is less than at the usual cutoff', () => {
    const levels = summariseMask([mask, ...maskMips(mask)]).levels.filter((l) => l.width >= 16);
    const worst = (byte: number) =>
      Math.max(...levels.map((l) => Math.abs(coverageAt(l.counts, byte) - coverageAt(counts, byte))));
    const { cutoff } = suggest(mask).find((s) => s.kind === 'steadiest')!;
    expect(worst(thresholdByte(cutoff))).toBeLessThan(worst(128));
  });

  test('the thinnest part is kept at its cutoff, and breaks above it', () => {
    const bridge = bridged([200, 90, 160]);
    const { cutoff } = suggest(bridge).find((s) => s.kind === 'thinnest')!;
    expect(thresholdByte(cutoff)).toBe(90);
  });

  test('masks of one alpha and of one texel suggest the usual one alone', () => {
    for (const flat of [makeMask(8, 8, new Uint8Array(64)), makeMask(1, 1, Uint8Array.of(77))]) {
      expect(suggest(flat).map((s) => s.kind)).toEqual(['usual']);
    }
    expect(suggest(noiseMask(2, 4, 4), 0)).toEqual([]);
  });
});
