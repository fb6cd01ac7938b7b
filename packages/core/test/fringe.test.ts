import { expect, test } from '@jest/globals';
import { blurValues, cosine, fringeOf, makeMask, makePicture, sine, thresholdByte, type Mask } from '../src/testing.ts';
import { after, env, noiseMask, random, stateOf } from './helpers/pictures.ts';
import { drawShape, lace } from './helpers/webs.ts';

const SIDE = 192;
const make = (alpha: (x: number, y: number) => number): Mask =>
  makeMask(
    SIDE,
    SIDE,
    Uint8Array.from({ length: SIDE * SIDE }, (_, i) =>
      Math.round(255 * Math.max(0, Math.min(1, alpha((i % SIDE) + 0.5, Math.floor(i / SIDE) + 0.5)))),
    ),
  );
/** A straight edge through the middle at an angle, alpha rising linearly over `texels`. */
const ramp = (angle: number, texels: number): Mask =>
  make((x, y) => 0.5 + ((x - SIDE / 2) * cosine(angle) + (y - SIDE / 2) * sine(angle)) / texels);
const harden = (mask: Mask, width: number, cutoff = 0.5): Mask => {
  const colour = makePicture(mask.width, mask.height, new Uint8Array(4 * mask.data.length));
  return after('harden-edge', stateOf(colour, mask), { width, cutoff }, env()).mask;
};

test.each([0, 17, 45, 63, 90].flatMap((angle) => [3, 6, 20].map((texels) => [angle, texels])))(
  'an edge at %d° that rises over %d texels has that width and slope',
  (angle, texels) => {
    const { width, slope } = fringeOf(ramp(angle, texels), 128)!;
    expect(Math.abs(width - texels)).toBeLessThan(0.06 * texels + 0.25);
    expect(Math.abs(slope * texels - 1)).toBeLessThan(0.1);
  },
);

test('an edge of whole texels is one texel wide; one blurred by σ has the slope 1 / (σ √(2π)) of a normal distribution', () => {
  const step = make((x) => (x < 96 ? 0 : 1));
  expect(fringeOf(step, 128)).toEqual({ width: 1, slope: 1 });
  for (const sigma of [2, 5]) {
    const soft = blurValues(step, sigma, env());
    const blurred = makeMask(SIDE, SIDE, Uint8Array.from(soft, Math.round));
    const normal = 1 / (sigma * Math.sqrt(2 * Math.PI));
    expect(Math.abs(fringeOf(blurred, 128)!.slope / normal - 1)).toBeLessThan(0.08); // a step of a byte is 5 % of it
  }
});

test('noise does not end an edge before its end', () => {
  const next = random(4);
  const noisy = ramp(20, 24);
  for (let i = 0; i < noisy.data.length; i++) {
    if (noisy.data[i] > 0 && noisy.data[i] < 255)
      noisy.data[i] = Math.max(1, Math.min(254, noisy.data[i] + 5 * (next() - 0.5)));
  }
  expect(Math.abs(fringeOf(noisy, 128)!.width - 24)).toBeLessThan(3);
});

test('nothing or all kept: no edge', () => {
  for (const [mask, threshold] of [
    [make(() => 0), 128],
    [make(() => 1), 128],
    [make((x) => x / SIDE), 0],
    [make((x) => x / SIDE), 256],
    [makeMask(1, 1, Uint8Array.of(200)), 128],
  ] as const) {
    expect(fringeOf(mask, threshold)).toBeNull();
  }
});

test.each([1, 2, 4])('hardened to %d texels, a soft edge has that width, at every angle', (to) => {
  for (const angle of [0, 17, 45]) {
    const { width } = fringeOf(harden(ramp(angle, 12), to), 128)!;
    expect(Math.abs(width - to)).toBeLessThan(0.3 + 0.1 * to);
  }
});

test('hardening turns no texel, at any cutoff and on noise, and softens none', () => {
  for (const mask of [noiseMask(5, 64, 64), drawShape(lace(44.3, 2.6), SIDE, SIDE), ramp(30, 9)]) {
    for (const cutoff of [0.01, 0.25, 0.5, 0.9, 1]) {
      const threshold = thresholdByte(cutoff);
      const hard = harden(mask, 1, cutoff).data;
      const at = threshold - 0.5;
      expect(mask.data.findIndex((v, i) => v >= threshold !== hard[i] >= threshold)).toBe(-1);
      expect(mask.data.findIndex((v, i) => Math.abs(hard[i] - at) < Math.abs(v - at) - 0.5)).toBe(-1);
    }
  }
});
