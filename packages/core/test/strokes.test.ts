import { describe, expect, test } from '@jest/globals';
import {
  BRUSH_DEFAULTS,
  Coverage,
  drawStroke,
  evaluateRun,
  FULL_COVERAGE,
  makeMask,
  makePicture,
  makeStep,
  StrokePainter,
  TILE,
  type Brush,
  type BrushStroke,
  type Mask,
  type Stroke,
} from '../src/testing.ts';
import { fixtureJson } from './helpers/node-codecs.ts';
import { drawMask, env as stepEnv, noiseMask, noisePicture, random, showMask, stateOf } from './helpers/pictures.ts';

const env = (scale = 1) => ({
  ...stepEnv({}, scale),
  tip: (): never => {
    throw new Error('no tip here');
  },
});

let nextId = 0;
function brushStroke(brush: Partial<Brush>, points: [number, number, number?][], more: Partial<BrushStroke> = {}) {
  const path = points.flatMap(([x, y, p = 1]) => [Math.round(x * 64), Math.round(y * 64), Math.round(p * 1023)]);
  const id = `stroke-${nextId++}`;
  return {
    id,
    kind: 'brush',
    effect: 'cut',
    seed: 5,
    brush: { ...BRUSH_DEFAULTS, ...brush },
    path,
    ...more,
  } as BrushStroke;
}

/** Share of each texel that a stroke covers, 0–1. */
function covered(stroke: Stroke, width: number, height: number, scale = 1, state?: { mask: Mask }): Float64Array {
  const cover = new Coverage(width, height);
  drawStroke(
    stroke,
    cover,
    () => stateOf(makePicture(width, height, new Uint8Array(4 * width * height).fill(90)), state?.mask),
    env(scale),
  );
  const out = new Float64Array(width * height);
  for (const [index, tile] of cover.tiles) {
    const [tx, ty] = [(index % cover.across) * TILE, Math.floor(index / cover.across) * TILE];
    for (let y = ty; y < Math.min(height, ty + TILE); y++) {
      for (let x = tx; x < Math.min(width, tx + TILE); x++) {
        out[y * width + x] = tile[(y - ty) * TILE + x - tx] / FULL_COVERAGE;
      }
    }
  }
  return out;
}
const sum = (values: Float64Array) => values.reduce((a, b) => a + b, 0);

/** The share of each texel inside, by 64 × 64 places in it. */
function bruteForce(side: number, inside: (x: number, y: number) => boolean): Float64Array {
  const out = new Float64Array(side * side);
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x++) {
      let n = 0;
      for (let j = 0; j < 64; j++) {
        for (let i = 0; i < 64; i++) if (inside(x + (i + 0.5) / 64, y + (j + 0.5) / 64)) n++;
      }
      out[y * side + x] = n / 4096;
    }
  }
  return out;
}
const farthest = (a: Float64Array, b: Float64Array) => a.reduce((most, v, i) => Math.max(most, Math.abs(v - b[i])), 0);

describe('a hard round brush', () => {
  test.each([8, 9.5, 16, 40, 128])('of diameter %d covers π d² / 4 texels within 1 %%', (diameter) => {
    for (const [x, y] of [
      [70, 70],
      [70.3, 69.8],
    ]) {
      const area = sum(covered(brushStroke({ diameter }, [[x, y]]), 140, 140));
      expect(Math.abs(area / ((Math.PI * diameter ** 2) / 4) - 1)).toBeLessThan(0.01);
    }
  });

  test.each([
    [1, 0.012],
    [2.5, 0.014],
    [7, 0.014],
    [9, 0.03],
    [24, 0.012],
    [46, 0.012],
  ])('of diameter %d: its rim is the area of a disc in each texel, by brute force, within %d', (diameter, within) => {
    const [x, y] = [24 + 20 / 64, 23 + 51 / 64];
    const exact = bruteForce(48, (u, v) => (u - x) ** 2 + (v - y) ** 2 < (diameter / 2) ** 2);
    expect(farthest(covered(brushStroke({ diameter }, [[x, y]]), 48, 48), exact)).toBeLessThan(within);
  });

  test.each([0, 7, 30, 45, 73, 90])('of one texel at %d degrees draws a line one texel wide', (degrees) => {
    const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
    const stroke = brushStroke({ diameter: 1 }, [
      [50 - 40 * c, 50 - 40 * s],
      [50 + 40 * c, 50 + 40 * s],
    ]);
    const cover = covered(stroke, 100, 100);
    // of the middle half of the line, cut off across it
    let area = 0;
    cover.forEach((v, i) => {
      const along = ((i % 100) + 0.5 - 50) * c + (Math.floor(i / 100) + 0.5 - 50) * s;
      if (Math.abs(along) <= 20) area += v;
    });
    expect(Math.abs(area / 40 - 1)).toBeLessThan(0.04);
    expect(Math.abs(sum(cover) / (80 + Math.PI / 4) - 1)).toBeLessThan(0.01);
  });

  test('a swept line has the area of a capsule, and its edge is a straight one', () => {
    const stroke = brushStroke({ diameter: 20 }, [
      [20, 20],
      [70, 45],
    ]);
    const length = Math.hypot(50, 25);
    expect(Math.abs(sum(covered(stroke, 90, 70)) / (20 * length + 100 * Math.PI) - 1)).toBeLessThan(0.002);
  });
});

describe('the points alone', () => {
  const points = Array.from({ length: 300 }, (_, i): [number, number, number] => [
    30 + 0.4 * i + 9 * Math.sin(i / 20),
    60 + 30 * Math.sin(i / 45),
    0.4 + 0.6 * Math.abs(Math.sin(i / 60)),
  ]);
  const brushes: Partial<Brush>[] = [
    { diameter: 3 },
    { diameter: 17, hardness: 0.3 },
    { diameter: 12, flow: 0.2, flowByPressure: true },
    { diameter: 20, tip: 'ragged', spacing: 0.3 },
    { tip: 'whole texels', diameter: 1 },
  ];

  test.each(brushes)('%j: ten events or a thousand cover the same texels', (brush) => {
    const stroke = brushStroke(brush, points);
    const state = stateOf(noisePicture(1, 190, 120), noiseMask(2, 190, 120));
    const drawn = (grouped: number) => {
      const painter = new StrokePainter(190, 120);
      painter.paint([], state, '', env());
      painter.begin({ ...stroke, path: [] }, env());
      for (let i = 0; i < stroke.path.length; i += 3 * grouped) painter.extend(stroke.path.slice(i, i + 3 * grouped));
      painter.end(stroke);
      return painter.paint([stroke], state, '', env()).data.slice();
    };
    const whole = drawn(points.length);
    expect(drawn(1)).toEqual(whole);
    expect(drawn(7)).toEqual(whole);
    expect(new StrokePainter(190, 120).paint([stroke], state, '', env()).data).toEqual(whole);
  });

  test.each(brushes)('%j: drawn twice as large it is in the same place', (brush) => {
    const stroke = brushStroke(brush, points);
    const once = covered(stroke, 190, 120);
    const twice = covered(stroke, 380, 240, 2);
    const halved = new Float64Array(once.length);
    twice.forEach((v, i) => (halved[(Math.floor(i / 380) >> 1) * 190 + ((i % 380) >> 1)] += v / 4));
    const apart = once.reduce((total, v, i) => total + Math.abs(v - halved[i]), 0);
    expect(apart / sum(once)).toBeLessThan(0.02);
  });

  test('a mirrored stroke is the same on both sides of its line', () => {
    const stroke = brushStroke({ diameter: 9 }, points.slice(0, 80), { mirror: { x: 95, y: 0, degrees: 0 } });
    const cover = covered(stroke, 190, 120);
    const turned = cover.map((_, i) => cover[Math.floor(i / 190) * 190 + 189 - (i % 190)]);
    expect(sum(cover)).toBeGreaterThan(300);
    expect(farthest(cover, turned)).toBeLessThan(0.02);
  });
});

// J. Bresenham 1965, by its definition: of each column (or row) the texel nearest to the line
test.each([
  [3, 4, 40, 20],
  [3, 4, 12, 50],
  [50, 9, 5, 30],
  [40, 50, 38, 2],
  [7, 7, 7, 7],
])('whole texels from %d, %d to %d, %d lie nearest to the straight line', (x0, y0, x1, y1) => {
  const stroke = brushStroke({ tip: 'whole texels', diameter: 1 }, [
    [x0 + 0.5, y0 + 0.5],
    [x1 + 0.5, y1 + 0.5],
  ]);
  const cover = covered(stroke, 60, 60);
  const n = Math.max(Math.abs(x1 - x0), Math.abs(y1 - y0));
  expect(sum(cover)).toBe(n + 1);
  for (let k = 0; k <= n; k++) {
    const [x, y] = [x0 + ((x1 - x0) * k) / Math.max(1, n), y0 + ((y1 - y0) * k) / Math.max(1, n)];
    const near = [-1, 0, 1].some((d) =>
      Math.abs(x1 - x0) >= Math.abs(y1 - y0)
        ? cover[(Math.round(y) + d) * 60 + Math.round(x)] === 1 && Math.abs(Math.round(y) + d - y) <= 0.5
        : cover[Math.round(y) * 60 + Math.round(x) + d] === 1 && Math.abs(Math.round(x) + d - x) <= 0.5,
    );
    expect(near).toBe(true);
  }
});

test('an outline covers the area of its polygon, where it crosses itself too', () => {
  const polygon = [10.25, 8, 70, 20.5, 55.5, 66, 20, 50.75];
  const shoelace = polygon.reduce((total, _, i) => {
    if (i % 2) return total;
    const j = (i + 2) % polygon.length;
    return total + (polygon[i] * polygon[j + 1] - polygon[j] * polygon[i + 1]) / 2;
  }, 0);
  const outline = (path: number[]): Stroke => ({
    id: 'outline-1',
    kind: 'outline',
    effect: 'cut',
    path: path.map((v) => v * 64),
  });
  expect(Math.abs(sum(covered(outline(polygon), 90, 80)) / shoelace - 1)).toBeLessThan(0.001);
  const twice = [...polygon, ...polygon]; // round twice
  expect(farthest(covered(outline(twice), 90, 80), covered(outline(polygon), 90, 80))).toBe(0);
});

describe('a step of strokes', () => {
  const [width, height] = [150, 100];
  const next = random(8);
  const strokes: Stroke[] = Array.from({ length: 24 }, (_, i) => {
    const [cx, cy] = [next() * width, next() * height];
    const at = (): [number, number, number] => [cx + 30 * next(), cy + 30 * next(), next()];
    const brush: Partial<Brush>[] = [
      { diameter: 2 + 20 * next() },
      { diameter: 14, hardness: 0.2, flow: 0.3 },
      { tip: 'ragged', diameter: 18, spacing: 0.3 },
    ];
    const effect = i % 2 ? 'cut' : 'restore';
    return brushStroke(brush[i % 3], [at(), at(), at()], { effect });
  });
  const state = stateOf(noisePicture(3, width, height), noiseMask(4, width, height));
  const fresh = (list: Stroke[]) => new StrokePainter(width, height).paint(list, state, '', env()).data;

  test('one stroke more, some fewer, one from the middle: as if all were drawn anew', () => {
    const painter = new StrokePainter(width, height);
    const lists = [20, 21, 24, 23, 9, 0, 15].map((n) => strokes.slice(0, n));
    lists.push([...strokes.slice(0, 8), ...strokes.slice(11, 16)], [...strokes].reverse());
    for (const list of lists) expect(painter.paint(list, state, '', env()).data).toEqual(fresh(list));
    const other = stateOf(state.colour, noiseMask(9, width, height));
    const tuned = painter.paint(strokes, other, '', env()).data;
    expect(tuned).toEqual(new StrokePainter(width, height).paint(strokes, other, '', env()).data);
  });

  test('soft strokes in one overlay are as one after the other on the mask', () => {
    const expected = Float64Array.from(state.mask.data);
    for (const stroke of strokes) {
      const target = stroke.effect === 'restore' ? 255 : 0;
      covered(stroke, width, height).forEach((share, i) => (expected[i] += (target - expected[i]) * share));
    }
    const data = fresh(strokes);
    expect(data.reduce((most, v, i) => Math.max(most, Math.abs(v - expected[i])), 0)).toBeLessThan(0.6);
  });

  test('in a run: what stands before is tuned, the strokes stay on top; an unknown stroke is an error of the step', () => {
    const drop = makeStep('invert-1', 'invert');
    const step = makeStep('strokes-1', 'strokes', { strokes: strokes.map((s) => s.id) });
    const host = {
      sources: [{ id: 'a', sha256: 'x', picture: state.colour }],
      strokes: new Map(strokes.map((s) => [s.id, s])),
    };
    const whole = stateOf(state.colour); // all kept before any step
    expect(evaluateRun([step], host).mask.data).toEqual(
      new StrokePainter(width, height).paint(strokes, whole, '', env()).data,
    );
    const none = stateOf(state.colour, makeMask(width, height, new Uint8Array(width * height)));
    expect(evaluateRun([drop, step], host).mask.data).toEqual(
      new StrokePainter(width, height).paint(strokes, none, '', env()).data,
    );
    expect(evaluateRun([step], { ...host, strokes: new Map() }).steps[0].error?.code).toBe('missing-strokes');
  });

  test('a stroke under way that is abandoned leaves nothing', () => {
    const painter = new StrokePainter(width, height);
    painter.paint(strokes.slice(0, 5), state, '', env());
    painter.begin(strokes[6] as BrushStroke, env());
    painter.extend((strokes[6] as BrushStroke).path);
    expect(painter.paint(strokes.slice(0, 5), state, '', env()).data).toEqual(fresh(strokes.slice(0, 5)));
  });
});

describe('a region beside the flood fill of scikit-image (check values of fixtures/make-checks.py)', () => {
  interface Filled {
    at: [number, number];
    rows: string[];
  }
  const theirs = fixtureJson<{ mask: Filled[]; steps: string[]; picture: Filled[] }>('flood.json');
  const mask = drawMask(fixtureJson<{ kept: string[] }>('morphology.json').kept);
  const { width, height } = mask;
  const region = (of: 'picture' | 'mask', at: [number, number], picture: Uint8Array): string[] => {
    const cover = new Coverage(width, height);
    const stroke: Stroke = { id: 'region-1', kind: 'region', effect: 'cut', of, at, tolerance: 0.2, gaps: 0 };
    drawStroke(stroke, cover, () => stateOf(makePicture(width, height, picture), mask), env());
    const data = new Uint8Array(width * height);
    for (let i = 0; i < data.length; i++) {
      const [x, y] = [i % width, Math.floor(i / width)];
      const tile = cover.tiles.get((y >> 6) * cover.across + (x >> 6));
      data[i] = (tile?.[((y & 63) << 6) + (x & 63)] ?? 0) > FULL_COVERAGE / 2 ? 255 : 0;
    }
    return showMask(makeMask(width, height, data));
  };

  test.each(theirs.mask)('of the mask at $at', ({ at, rows }) => {
    expect(region('mask', at, new Uint8Array(4 * width * height))).toEqual(rows);
  });

  test.each(theirs.picture)('of the picture at $at', ({ at, rows }) => {
    const greys = Uint8Array.from({ length: 4 * width * height }, (_, i) =>
      i % 4 === 3 ? 255 : 36 * Number(theirs.steps.join('')[i >> 2]),
    );
    expect(region('picture', at, greys)).toEqual(rows);
  });
});
