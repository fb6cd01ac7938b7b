import { expect, test } from '@jest/globals';
import { converter } from 'culori';
import {
  byteOfLinear16Table,
  cubeRoot,
  LINEAR16_OF_BYTE,
  linearToSrgb,
  luminance8,
  oklabFromBytes,
  oklabFromXyz,
  power,
  REC709,
  REC709_FIXED,
  srgbToLinear,
} from '../src/testing.ts';
import { random } from './helpers/pictures.ts';

test('sRGB transfer function at the values of IEC 61966-2-1', () => {
  expect(srgbToLinear(0.5)).toBeCloseTo(0.214041, 6);
  expect(srgbToLinear(0.04045)).toBeCloseTo(0.04045 / 12.92, 12);
  expect(srgbToLinear(1)).toBeCloseTo(1, 14);
  expect(linearToSrgb(0.0031308)).toBeCloseTo(0.0031308 * 12.92, 12);
  for (let v = 0; v <= 1; v += 1 / 64) expect(linearToSrgb(srgbToLinear(v))).toBeCloseTo(v, 10);
});

test('8-bit codes survive the way to 16-bit linear and back', () => {
  const back = byteOfLinear16Table();
  for (let code = 0; code < 256; code++) expect(back[LINEAR16_OF_BYTE[code]]).toBe(code);
});

test('luminance weights of ITU-R BT.709', () => {
  expect(REC709).toEqual({ r: 0.2126, g: 0.7152, b: 0.0722 });
  expect(REC709_FIXED.r + REC709_FIXED.g + REC709_FIXED.b).toBe(65536);
  expect([luminance8(255, 0, 0), luminance8(0, 255, 0), luminance8(0, 0, 255)]).toEqual([54, 182, 18]);
  expect([luminance8(0, 0, 0), luminance8(255, 255, 255)]).toEqual([0, 255]);
});

// Ottosson 2020, "A perceptual color space for image processing", table of XYZ and OKLab pairs
test.each([
  [
    [0.95, 1.0, 1.089],
    [1.0, 0.0, 0.0],
  ],
  [
    [1.0, 0.0, 0.0],
    [0.45, 1.236, -0.019],
  ],
  [
    [0.0, 1.0, 0.0],
    [0.922, -0.671, 0.263],
  ],
  [
    [0.0, 0.0, 1.0],
    [0.153, -1.415, -0.449],
  ],
])('OKLab of XYZ %j is the published %j', (xyz, lab) => {
  const found = oklabFromXyz(xyz[0], xyz[1], xyz[2]);
  found.forEach((v, i) => expect(Math.abs(v - lab[i])).toBeLessThan(0.0006)); // three published digits
});

test('OKLab of sRGB agrees with culori', () => {
  const reference = converter('oklab');
  const next = random(11);
  for (let i = 0; i < 300; i++) {
    const [r, g, b] = [next(), next(), next()].map((v) => Math.floor(256 * v));
    const expected = reference({ mode: 'rgb', r: r / 255, g: g / 255, b: b / 255 });
    const [L, a, bb] = oklabFromBytes(r, g, b);
    expect(Math.abs(L - expected.l) + Math.abs(a - expected.a) + Math.abs(bb - expected.b)).toBeLessThan(1e-6);
  }
});

test('roots and powers from exact operations agree with Math', () => {
  const next = random(5);
  for (let i = 0; i < 200; i++) {
    const x = next() * 4;
    const y = 0.1 + 9.9 * next();
    expect(cubeRoot(x) / Math.cbrt(x)).toBeCloseTo(1, 14);
    expect(power(x, y) / Math.pow(x, y)).toBeCloseTo(1, 10);
  }
  expect([cubeRoot(0), power(0, 2), power(0, 0)]).toEqual([0, 0, 1]);
});
