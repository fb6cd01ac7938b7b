import { describe, expect, test } from '@jest/globals';
import {
  BRUSH_DEFAULTS,
  Coverage,
  drawStroke,
  evaluateRun,
  FULL_COVERAGE,
  makePicture,
  makeStep,
  StrokePainter,
  TILE,
  type Brush,
  type BrushStroke,
  type Picture,
  type Stroke,
} from '../src/testing.ts';
import { env as stepEnv, noiseMask, noisePicture, stateOf } from './helpers/pictures.ts';

const SIDE = 120;

/** A tip twice as wide as tall, kept in its left half. */
const tip: Picture = (() => {
  const data = new Uint8Array(4 * 32 * 16).fill(255);
  for (let i = 0; i < 32 * 16; i++) if (i % 32 >= 16) data.fill(0, 4 * i, 4 * i + 3);
  return makePicture(32, 16, data);
})();
const env = (scale = 1) => ({ ...stepEnv({}, scale), tip: () => tip });

function dab(brush: Partial<Brush>, seed = 1, points: number[] = [60, 60]): BrushStroke {
  const path = points.flatMap((v, i) => (i % 2 ? [v * 64, 1023] : [v * 64]));
  return { id: `dab-${seed}`, kind: 'brush', effect: 'cut', seed, brush: { ...BRUSH_DEFAULTS, ...brush }, path };
}

function covered(stroke: Stroke, scale = 1): Float64Array {
  const side = SIDE * scale;
  const cover = new Coverage(side, side);
  drawStroke(stroke, cover, () => stateOf(noisePicture(1, side, side), noiseMask(2, side, side)), env(scale));
  const out = new Float64Array(side * side);
  for (const [index, tile] of cover.tiles) {
    const [tx, ty] = [(index % cover.across) * TILE, Math.floor(index / cover.across) * TILE];
    tile.forEach((v, i) => {
      const [x, y] = [tx + (i % TILE), ty + Math.floor(i / TILE)];
      if (x < side && y < side) out[y * side + x] = v / FULL_COVERAGE;
    });
  }
  return out;
}
const sum = (values: Float64Array) => values.reduce((a, b) => a + b, 0);

describe('a ragged tip', () => {
  test('stays within its disc, is torn as deep as it is set, and no two seeds are alike', () => {
    const disc = covered(dab({ diameter: 60 }));
    const areas = [0.1, 0.3, 0.6].map((torn) => sum(covered(dab({ tip: 'ragged', diameter: 60, torn }))));
    expect(areas[0]).toBeGreaterThan(areas[1]);
    expect(areas[1]).toBeGreaterThan(areas[2]);
    expect(areas[2]).toBeGreaterThan(sum(disc) * 0.4 ** 2);
    const one = covered(dab({ tip: 'ragged', diameter: 60 }, 1));
    one.forEach((v, i) => expect(v).toBeLessThanOrEqual(disc[i] + 0.02));
    expect(covered(dab({ tip: 'ragged', diameter: 60 }, 1))).toEqual(one);
    expect(covered(dab({ tip: 'ragged', diameter: 60 }, 2))).not.toEqual(one);
    expect(sum(covered(dab({ tip: 'ragged', diameter: 60, torn: 0 })))).toBeCloseTo(sum(disc), -1);
  });

  test('a stroke is as torn as a dab: teeth lie in the picture, where teeth of each dab fill each other', () => {
    const points = Array.from({ length: 12 }, (_, k) => [14 + 8 * k, 60]).flat();
    const roughness = (seed: number, rim: 'picture' | 'dab') => {
      const line = covered(dab({ tip: 'ragged', diameter: 40, rim }, seed, points));
      const heights = Array.from({ length: 80 }, (_, k) => sum(line.filter((_, i) => i % SIDE === 20 + k)) / 2);
      const mean = heights.reduce((x, y) => x + y, 0) / 80;
      return Math.sqrt(heights.reduce((x, y) => x + (y - mean) ** 2, 0) / 80);
    };
    const mean = (rim: 'picture' | 'dab') => [1, 2, 3, 4, 5, 6].reduce((x, seed) => x + roughness(seed, rim) / 6, 0);
    expect(mean('picture')).toBeGreaterThan(1.1); // texels, of a radius of 20
    expect(mean('picture')).toBeGreaterThan(1.5 * mean('dab'));
  });

  test('its grain follows the diameter: half as wide is the same outline, half as large', () => {
    const wide = covered(dab({ tip: 'ragged', diameter: 80 }));
    const slim = covered(dab({ tip: 'ragged', diameter: 40 }, 1, [30, 30]));
    expect(Math.abs(sum(slim) / (sum(wide) / 4) - 1)).toBeLessThan(0.01);
  });
});

describe('a tip made from a piece', () => {
  const brush: Partial<Brush> = { tip: 'piece', picture: 'x', diameter: 48, turn: 'as it is' };

  test('is as long as the diameter, as it is, and turned with the angle', () => {
    const flat = covered(dab(brush));
    const wanted = (48 * 24) / 2; // the kept half of 48 × 24
    expect(Math.abs(sum(flat) / wanted - 1)).toBeLessThan(0.05);
    expect([flat[60 * SIDE + 45], flat[60 * SIDE + 75], flat[80 * SIDE + 45]]).toEqual([1, 0, 0]);
    const upright = covered(dab({ ...brush, angle: 90 }));
    expect(Math.abs(sum(upright) / wanted - 1)).toBeLessThan(0.05);
    expect([upright[45 * SIDE + 60], upright[75 * SIDE + 60], upright[60 * SIDE + 45]].sort()).toEqual([0, 0, 1]);
  });

  test('turns along the stroke, or by chance that its seed decides; sizes spread downwards', () => {
    const down = [60, 20, 60, 21];
    const along = covered(dab({ ...brush, turn: 'along the stroke', spacing: 4 }, 1, down));
    expect(sum(along)).toBeGreaterThan(100);
    const chance = (seed: number) => covered(dab({ ...brush, turn: 'at random' }, seed));
    expect(chance(3)).toEqual(chance(3));
    expect(chance(3)).not.toEqual(chance(4));
    const sizes = [1, 2, 3, 4].map((seed) => sum(covered(dab({ ...brush, sizeSpread: 0.8 }, seed))));
    expect(Math.max(...sizes)).toBeLessThanOrEqual(sum(covered(dab(brush))) + 1);
    expect(new Set(sizes.map(Math.round)).size).toBeGreaterThan(2);
  });

  test('drawn twice as large it is in the same place', () => {
    const once = covered(dab({ ...brush, angle: 30 }));
    const twice = covered(dab({ ...brush, angle: 30 }), 2);
    expect(Math.abs(sum(twice) / 4 / sum(once) - 1)).toBeLessThan(0.03);
  });
});

test('flow: dabs add up where they overlap, and never take more than all', () => {
  const once = covered(dab({ diameter: 20, flow: 0.25 }))[60 * SIDE + 60];
  expect(once).toBeCloseTo(0.25, 3);
  const there = covered(dab({ diameter: 20, flow: 0.25, spacing: 0.05 }, 1, [50, 60, 70, 60]))[60 * SIDE + 60];
  expect(there).toBeGreaterThan(0.97);
  expect(there).toBeLessThanOrEqual(1);
});

test('two steps of strokes in one run: the first is painted on, the second lies on top; both share nothing', () => {
  const first = dab({ diameter: 30 }, 1, [40, 40, 80, 40]);
  const second = { ...dab({ diameter: 30 }, 2, [60, 20, 60, 90]), effect: 'restore' as const };
  const more = dab({ diameter: 12 }, 3, [30, 90, 90, 90]);
  const strokes = new Map<string, Stroke>([first, second, more].map((s) => [s.id, s]));
  const colour = noisePicture(5, SIDE, SIDE);
  const painters = new Map<string, StrokePainter>();
  const run = (a: string[], b: string[]) => {
    const steps = [makeStep('hand-a', 'strokes', { strokes: a }), makeStep('hand-b', 'strokes', { strokes: b })];
    const host = { sources: [{ id: 's', sha256: 'x', picture: colour }], strokes };
    const painterOf = (id: string) => {
      if (!painters.has(id)) painters.set(id, new StrokePainter(SIDE, SIDE));
      return painters.get(id)!;
    };
    const kept = evaluateRun(steps, { ...host, painterOf }).mask.data;
    expect(kept).toEqual(evaluateRun(steps, host).mask.data);
    return kept.slice();
  };
  const both = run([first.id], [second.id]);
  expect(run([first.id, more.id], [second.id])).not.toEqual(both);
  run([], [second.id]);
  expect(run([first.id], [second.id])).toEqual(both);
  expect(both[40 * SIDE + 60]).toBe(255); // restored on top
  expect(both[40 * SIDE + 42]).toBe(0);
});

test('a region of the mask is looked for in what lies under it: retuned before, it is another one', () => {
  const at: [number, number] = [60, 60];
  const ring = dab({ diameter: 4 }, 1, [40, 40, 80, 40, 80, 80, 40, 80, 40, 40]);
  const region: Stroke = { id: 'fill-1', kind: 'region', effect: 'cut', of: 'mask', at, tolerance: 0, gaps: 0 };
  const painter = new StrokePainter(SIDE, SIDE);
  const state = stateOf(noisePicture(5, SIDE, SIDE));
  const filled = painter.paint([ring, region], state, 'kept', env()).data.slice();
  expect([filled[60 * SIDE + 60], filled[10 * SIDE + 10]]).toEqual([0, 255]);
  const dropped = stateOf(state.colour, { ...state.mask, data: new Uint8Array(SIDE * SIDE) });
  const other = painter.paint([ring, { ...region, id: 'fill-2', effect: 'restore' }], dropped, 'dropped', env()).data;
  expect([other[60 * SIDE + 60], other[10 * SIDE + 10]]).toEqual([255, 255]); // nothing bounds it there
  expect(painter.paint([ring, region], state, 'kept', env()).data).toEqual(filled);
});

test('what a mirrored region and outline cover lies on both sides', () => {
  const mirror = { x: 60, y: 0, degrees: 0 };
  const square: Stroke = {
    id: 'outline-m',
    kind: 'outline',
    effect: 'cut',
    path: [10, 10, 30, 10, 30, 30, 10, 30].map((v) => v * 64),
    mirror,
  };
  const cover = covered(square);
  expect(sum(cover)).toBeCloseTo(800, 5);
  expect([cover[20 * SIDE + 20], cover[20 * SIDE + 100], cover[20 * SIDE + 60]]).toEqual([1, 1, 0]);
});
