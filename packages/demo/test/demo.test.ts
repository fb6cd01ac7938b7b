import { expect, test } from '@jest/globals';
import { describeSource, evaluateRun, makeStep, startingRun, toRgba8, type Raster } from '@lithe-sieve/core';
import { drawCordgrass, drawLeafScan, drawMane } from '../src/index.ts';

/** Intersection over union of what is kept at cutoff 0.5. */
function overlap(a: Uint8Array, b: Uint8Array): number {
  let both = 0;
  let either = 0;
  for (let i = 0; i < a.length; i++) {
    both += Number(a[i] >= 128 && b[i] >= 128);
    either += Number(a[i] >= 128 || b[i] >= 128);
  }
  return both / either;
}

function startOf(raster: Raster, name: string) {
  const facts = describeSource({ format: 'png', raster, bitDepth: 8, palette: false, notes: [] });
  const run = startingRun([{ ref: { id: 'source', sha256: 'x', fileName: name }, facts }], () =>
    Math.random().toString(36),
  );
  return {
    facts,
    run,
    result: evaluateRun(run, { sources: [{ id: 'source', sha256: 'x', picture: toRgba8(raster) }] }),
  };
}

// Accuracy on the generator's exact mask, on seeds that no default was chosen by; measured 0.9976 to 0.9982 at 512²
test.each([101, 102])('the starting run of a leaf scan finds its mask, seed %i', (seed) => {
  const { colour, mask } = drawLeafScan(seed, 512);
  const { facts, run, result } = startOf(colour, 'scan.png');
  expect([facts.alpha, run.map((s) => s.kind)]).toEqual(['none', ['from-colour', 'bleed']]);
  expect(overlap(result.mask.data, mask.data)).toBeGreaterThan(0.995);
});

test.each([201])('from backdrop finds a leaf scan nearly texel for texel, seed %i', (seed) => {
  const { colour, mask } = drawLeafScan(seed, 384);
  const found = evaluateRun([makeStep('step', 'from-backdrop')], {
    sources: [{ id: 'source', sha256: 'x', picture: toRgba8(colour) }],
  }).mask;
  expect(overlap(found.data, mask.data)).toBeGreaterThan(0.998); // measured 0.9997 and more
});

test('fine fringe halves the error of a hard mask on a mane', () => {
  const { colour, mask } = drawMane(305, 768);
  const hard = new Uint8Array(4 * mask.data.length);
  mask.data.forEach((v, i) => hard.fill(v >= 128 ? 255 : 0, 4 * i, 4 * i + 4));
  const { steps } = evaluateRun(
    [makeStep('a', 'from-channel', { sourceId: 'hard', channel: 'red' }), makeStep('b', 'fine-fringe')],
    {
      sources: [
        { id: 'source', sha256: 'x', picture: toRgba8(colour) },
        { id: 'hard', sha256: 'y', picture: { ...mask, channels: 4, data: hard } },
      ],
    },
  );
  const error = (found: Uint8Array) => found.reduce((sum, v, i) => sum + Math.abs(v - mask.data[i]), 0);
  expect(error(steps[1].mask.data) / error(steps[0].mask.data)).toBeLessThan(0.5);
});

test('cordgrass carries straight alpha that is its mask, over a dark matte', () => {
  const { colour, mask } = drawCordgrass(3, 256);
  const { facts, result } = startOf(colour, 'grass.png');
  expect(facts.alpha).toBe('present');
  expect(result.mask.data).toEqual(mask.data);
  expect(Array.from(colour.data.subarray(0, 4))).toEqual([18, 20, 16, 0]); // the matte stays under alpha 0
});

test('the mane has hairs down to a part of a texel, and the same seed draws the same', () => {
  const { colour, mask } = drawMane(5, 256);
  expect(colour.channels).toBe(3);
  expect(mask.data.filter((a) => a > 10 && a < 245).length).toBeGreaterThan(3000);
  expect(drawMane(5, 256)).toEqual({ colour, mask });
  expect(drawMane(6, 256).mask.data).not.toEqual(mask.data);
});
