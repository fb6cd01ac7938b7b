import { expect, test } from '@jest/globals';
import {
  coverageAt,
  evaluateRun,
  halvingsTo,
  histogram,
  isPointwise,
  makeStep,
  sampleTexels,
  shrink,
  thresholdByte,
  toRgba8,
  type Picture,
  type RunSource,
  type StepEntry,
} from '@lithe-sieve/core';
import { drawLeafScan, drawMane } from '../src/index.ts';

const SIDE = 448;
const VIEW = 128;
const HALF = thresholdByte(0.5);

const leaf = drawLeafScan(23, SIDE);
const drop = makeStep('step-1', 'from-colour', { drop: [[228, 224, 214]], tolerance: 0.13 });
const mane = drawMane(23, SIDE);
const maskPicture = makeStep('step-1', 'from-channel', { sourceId: 'b', channel: 'luminance' });
const PIECES: [string, Picture[], StepEntry][] = [
  ['a scan, by its colour', [toRgba8(leaf.colour)], drop],
  ['hair, by a mask picture of its own', [toRgba8(mane.colour), toRgba8(mane.mask)], maskPicture],
];

function keptOf(pictures: Picture[], step: StepEntry, reduce: (picture: Picture) => Omit<RunSource, 'id' | 'sha256'>) {
  const sources = pictures.map((picture, i) => ({ id: 'ab'[i], sha256: `${i}`, ...reduce(picture) }));
  return 100 * coverageAt(histogram(evaluateRun([step], { sources }).mask), HALF);
}

test.each(PIECES)(
  '%s: texels picked at view size say what the full size keeps, within 0.5 points',
  (_, pictures, step) => {
    const halvings = halvingsTo(VIEW, pictures[0]);
    const full = keptOf(pictures, step, (picture) => ({ picture }));
    expect(full).toBeGreaterThan(5);
    const picked = keptOf(pictures, step, (picture) => ({ picture: sampleTexels(picture, halvings) }));
    expect(Math.abs(picked - full)).toBeLessThan(0.5);
  },
);

test('only where each step looks at one place the picked texels count', () => {
  const alone = [drop, makeStep('step-2', 'levels', { black: 0.2 }), makeStep('step-3', 'bleed')];
  expect(isPointwise(alone)).toBe(true);
  expect(isPointwise([...alone, makeStep('step-4', 'grow')])).toBe(false);
  expect(isPointwise([...alone, { ...makeStep('step-4', 'grow'), on: false }])).toBe(true);
  expect(isPointwise([makeStep('step-1', 'from-colour', { reach: 'connected' })])).toBe(false);
});

test('a mask picture is shrunk as values: its soft edges are not taken for lighter ones', () => {
  const [, pictures, step] = PIECES[1];
  const halvings = halvingsTo(VIEW, pictures[0]);
  const full = keptOf(pictures, step, (picture) => ({ picture }));
  const light = (picture: Picture) => shrink(picture, halvings, 'colour');
  const asValues = keptOf(pictures, step, (p) => ({ picture: light(p), data: shrink(p, halvings, 'data') }));
  const asLight = keptOf(pictures, step, (p) => ({ picture: light(p) }));
  expect(asLight - full).toBeGreaterThan(2); // what it was before
  expect(Math.abs(asValues - full)).toBeLessThan((asLight - full) / 2);
});
