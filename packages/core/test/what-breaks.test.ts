import { expect, test } from '@jest/globals';
import { makeMask, maskMips, whatBreaks, type LevelBreaks, type Mask } from '../src/index.ts';
import { regionsOf } from '../src/mask/connected.ts';
import { keptAreas } from '../src/sieve/breaks/kept-areas.ts';
import { linesOf } from '../src/sieve/breaks/thinning.ts';
import { disc, drawShape, hair, net, type Shape } from './helpers/webs.ts';

const SIDE = 256;
const hard = (shape: Shape, width = SIDE, height = SIDE): Mask =>
  makeMask(
    width,
    height,
    Uint8Array.from({ length: width * height }, (_, i) => (shape(i % width, Math.floor(i / width)) ? 255 : 0)),
  );
const breaksOf = (mask: Mask) => whatBreaks([mask, ...maskMips(mask)], 128);
const at = (breaks: LevelBreaks[], width: number) => breaks.find((b) => b.width === width)!;

const bodies: Shape = (x, y) => disc(64, 128, 40)(x, y) || disc(192, 128, 40)(x, y);
const thread: Shape = (x, y) => y === 129 && x > 64 && x < 192;

const env = { checkpoint: () => undefined };

test('a thread between two bodies comes apart where it is half a texel thick, and is found whole', () => {
  const found = breaksOf(hard((x, y) => bodies(x, y) || thread(x, y)));
  const broken = at(found, 64);
  expect(broken.counts).toEqual({ 'comes apart': 1, vanishes: 0, 'loses its end': 0 });
  const [{ kind, area, share, box }] = broken.worst;
  expect(kind).toBe('comes apart');
  // from disc to disc it is 49 texels long; up to a texel of the level at each end may still show
  expect(area).toBeGreaterThan(40);
  expect(area).toBeLessThanOrEqual(49);
  expect(box.x0).toBeGreaterThanOrEqual(103);
  expect(box.x1).toBeLessThanOrEqual(153);
  expect([box.y0, box.y1]).toEqual([129, 130]);
  expect(share).toBeCloseTo(area / hard((x, y) => bodies(x, y) || thread(x, y)).data.filter((v) => v > 0).length, 10);
  expect([...broken.marks.texels].every((i) => Math.floor(i / broken.marks.width) === 129)).toBe(true);
});

test('bodies break nowhere down to the size of a texel; a tail is a lost end, a lone strand vanishes', () => {
  for (const { counts } of breaksOf(hard(bodies))) expect(Object.values(counts)).toEqual([0, 0, 0]);
  const tail = breaksOf(hard((x, y) => disc(64, 128, 40)(x, y) || thread(x, y)));
  expect(at(tail, 64).counts).toEqual({ 'comes apart': 0, vanishes: 0, 'loses its end': 1 });
  const lone = breaksOf(hard((x, y) => disc(64, 50, 40)(x, y) || (x === 200 && y > 20 && y < 240)));
  expect(at(lone, 64).counts).toEqual({ 'comes apart': 0, vanishes: 1, 'loses its end': 0 });
  expect(at(lone, 64).worst[0].area).toBe(219);
});

test('levels that keep all that has anything kept under it lose nothing; empty ones lose everything', () => {
  const mask = drawShape(net(36, 5), SIDE, SIDE);
  const kept = mask.data.filter((v) => v >= 128).length;
  const all = maskMips(mask).map(({ width, height, data }) =>
    makeMask(
      width,
      height,
      data.map(() => 255),
    ),
  );
  for (const { share } of whatBreaks([mask, ...all], 128)) expect(share).toBe(0);
  const none = all.map(({ width, height, data }) =>
    makeMask(
      width,
      height,
      data.map(() => 0),
    ),
  );
  for (const { worst, share } of whatBreaks([mask, ...none], 128)) {
    expect(share).toBeGreaterThan(0.98); // a thread's corner may lie beyond reach of its line
    expect(worst[0].area).toBeLessThanOrEqual(kept);
  }
});

test.each([
  ['all kept', hard(() => true), 128],
  ['all dropped', hard(() => false), 128],
  ['a cutoff of 0', drawShape(hair(3, 64, 9), 64, 64), 0],
  ['a cutoff that nothing reaches', drawShape(hair(3, 64, 9), 64, 64), 256],
])('%s: nothing breaks', (_, mask, threshold) => {
  for (const { share, worst } of whatBreaks([mask, ...maskMips(mask)], threshold))
    expect([share, worst]).toEqual([0, []]);
});

test.each([
  [1, 1],
  [1, 300],
  [300, 1],
  [375, 251],
])('%d × %d: every level down to 16 texels, all losses inside the picture', (width, height) => {
  const mask = hard((x, y) => (x + 2 * y) % 7 < 2, width, height);
  const found = breaksOf(mask);
  expect(found).toHaveLength(maskMips(mask).filter((l) => Math.max(l.width, l.height) >= 16).length);
  for (const { worst, share } of found) {
    expect(share).toBeLessThanOrEqual(1);
    for (const { box } of worst) {
      expect(Math.min(box.x0, box.y0)).toBeGreaterThanOrEqual(0);
      expect(box.x1).toBeLessThanOrEqual(width + 1e-9);
      expect(box.y1).toBeLessThanOrEqual(height + 1e-9);
    }
  }
});

test('thinning keeps what is connected, connected: as many parts and holes as before (Zhang, Suen 1984)', () => {
  const look = () => undefined;
  for (const mask of [hard(net(36, 5)), drawShape(hair(5, SIDE, 12), SIDE, SIDE)]) {
    const thinned = linesOf(keptAreas(mask, 128, look), 8, look);
    const lines = makeMask(
      SIDE + 2,
      SIDE + 2,
      thinned.map((v) => 255 * v),
    );
    const framed = hard(
      (x, y) => x > 0 && y > 0 && x <= SIDE && y <= SIDE && mask.data[(y - 1) * SIDE + x - 1] >= 128,
      SIDE + 2,
      SIDE + 2,
    );
    expect(regionsOf(lines, true, env).count).toBe(regionsOf(framed, true, env).count);
    expect(regionsOf(lines, false, env).count).toBe(regionsOf(framed, false, env).count);
    // and they are lines: no 3 × 3 texels are all set
    const row = SIDE + 2;
    const solid = thinned.findIndex(
      (v, i) => v === 1 && [-row - 1, -row, -row + 1, -1, 1, row - 1, row, row + 1].every((d) => thinned[i + d] === 1),
    );
    expect(solid).toBe(-1);
  }
});
