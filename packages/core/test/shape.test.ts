import { describe, expect, test } from '@jest/globals';
import {
  blurValues,
  cosine,
  edgeOffset,
  evaluateRun,
  findRegions,
  makeMask,
  makePicture,
  makeStep,
  nearestTexels,
  sine,
  type Mask,
  type StepKindName,
  type StepParams,
} from '../src/testing.ts';
import { fixtureJson } from './helpers/node-codecs.ts';
import { after, drawMask, env, noiseMask, showMask, stateOf } from './helpers/pictures.ts';

function apply<K extends StepKindName>(kind: K, mask: Mask, params: Partial<StepParams[K]>, scale = 1) {
  const colour = makePicture(mask.width, mask.height, new Uint8Array(4 * mask.data.length));
  return after(kind, stateOf(colour, mask), params, env({}, scale));
}

/** A disc whose texels hold the share that it covers of them, by 16 × 16 samples. */
function disc(side: number, radius: number, cx = side / 2, cy = side / 2): Mask {
  const data = new Uint8Array(side * side);
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x++) {
      let inside = 0;
      for (let j = 0; j < 16; j++) {
        for (let i = 0; i < 16; i++) {
          const dx = x + (i + 0.5) / 16 - cx;
          const dy = y + (j + 0.5) / 16 - cy;
          if (dx * dx + dy * dy < radius * radius) inside++;
        }
      }
      data[y * side + x] = Math.round((255 * inside) / 256);
    }
  }
  return makeMask(side, side, data);
}

const area = ({ data }: Mask) => data.reduce((sum, v) => sum + v, 0) / 255;

describe('the edge inside a texel', () => {
  test.each([
    [1, 0],
    [1, 1],
    [3, 1],
    [-2, 5],
  ])('lies where the half plane facing %d, %d covers what it covers', (gx, gy) => {
    const length = Math.hypot(gx, gy);
    for (const far of [-0.6, -0.3, 0, 0.2, 0.45]) {
      let inside = 0;
      const n = 400;
      for (let j = 0; j < n; j++) {
        for (let i = 0; i < n; i++) {
          const along = (((i + 0.5) / n - 0.5) * gx + ((j + 0.5) / n - 0.5) * gy) / length;
          if (along < -far) inside++;
        }
      }
      const cover = inside / (n * n);
      if (cover > 0.001 && cover < 0.999) expect(edgeOffset(cover, gx, gy)).toBeCloseTo(far, 2);
    }
  });
});

describe('grow and shrink', () => {
  test.each([
    [20, 0.25],
    [20, 1],
    [20, 3.5],
    [30, -2.75],
    [30, -10],
  ])('a disc of radius %d moved by %d has the area of the disc that much larger', (radius, by) => {
    const grown = apply('grow', disc(96, radius, 48.3, 47.6), { by }).mask;
    const wanted = Math.PI * (radius + by) ** 2;
    expect(Math.abs(area(grown) / wanted - 1)).toBeLessThan(0.01);
  });

  test('whole texels move a straight hard edge by whole texels', () => {
    const mask = drawMask(['....', '####', '####', '####', '####']);
    expect(showMask(apply('grow', mask, { by: 1 }).mask)).toEqual(['####', '####', '####', '####', '####']);
    expect(showMask(apply('grow', mask, { by: -2 }).mask)).toEqual(['....', '....', '....', '####', '####']);
  });

  test('at view size the same texels of the full size are meant', () => {
    const half = apply('grow', disc(48, 10), { by: 4 }, 0.5).mask;
    expect(Math.abs(area(half) / (Math.PI * 12 ** 2) - 1)).toBeLessThan(0.02);
  });
});

describe('feather', () => {
  test('the blur has the variance that was asked, and keeps the sum', () => {
    const side = 101;
    const point = makeMask(side, side, new Uint8Array(side * side));
    point.data[50 * side + 50] = 255;
    for (const sigma of [0.6, 1.5, 4, 9.3]) {
      const soft = blurValues(point, sigma, env());
      let sum = 0;
      let spread = 0;
      soft.forEach((v, i) => {
        sum += v;
        spread += v * ((i % side) - 50) ** 2;
      });
      expect(sum).toBeCloseTo(255, 2);
      expect(Math.sqrt(spread / sum)).toBeCloseTo(sigma, 2);
    }
  });

  test('outwards loses no alpha, inwards wins none', () => {
    const mask = disc(40, 10);
    const out = apply('feather', mask, { radius: 3, side: 'outwards' }).mask.data;
    const inn = apply('feather', mask, { radius: 3, side: 'inwards' }).mask.data;
    expect(out.every((v, i) => v >= mask.data[i])).toBe(true);
    expect(inn.every((v, i) => v <= mask.data[i])).toBe(true);
    expect(area(makeMask(40, 40, out))).toBeGreaterThan(area(mask) + 20);
  });
});

describe('smooth edge', () => {
  test('a staircase becomes a straight edge of the same area', () => {
    const side = 120;
    const data = new Uint8Array(side * side).map((_, i) => {
      const [x, y] = [i % side, Math.floor(i / side)];
      return Math.floor(x / 8) * 8 + 4 + (y >> 31) < 60 + Math.floor(y / 8) * 4 - 30 ? 255 : 0;
    });
    const mask = makeMask(side, side, data);
    const smooth = apply('smooth-edge', mask, { radius: 6 }).mask;
    expect(Math.abs(area(smooth) / area(mask) - 1)).toBeLessThan(0.005);
    const edges = (m: Mask) =>
      Array.from(
        { length: 60 },
        (_, k) => m.data.subarray((k + 30) * side, (k + 31) * side).reduce((s, v) => s + v, 0) / 255,
      );
    const wiggle = (row: number[]) => {
      const slope = (row[59] - row[0]) / 59;
      return Math.max(...row.map((v, k) => Math.abs(v - row[0] - slope * k)));
    };
    expect(wiggle(edges(mask))).toBeGreaterThan(2.5);
    expect(wiggle(edges(smooth))).toBeLessThan(1.2);
  });
});

describe('regions', () => {
  /** Flood fill from every texel in turn. */
  function countByFlood(mask: Mask, connectivity: 4 | 8): number[] {
    const { width, height, data } = mask;
    const seen = new Uint8Array(data.length);
    const areas: number[] = [];
    for (let s = 0; s < data.length; s++) {
      if (seen[s] || data[s] < 128) continue;
      const stack = [s];
      seen[s] = 1;
      let size = 0;
      while (stack.length) {
        const i = stack.pop()!;
        size++;
        const [x, y] = [i % width, Math.floor(i / width)];
        for (let dy = -1; dy <= 1; dy++) {
          for (let dx = -1; dx <= 1; dx++) {
            if (connectivity === 4 && dx && dy) continue;
            const [nx, ny] = [x + dx, y + dy];
            const n = ny * width + nx;
            if (nx < 0 || ny < 0 || nx >= width || ny >= height || seen[n] || data[n] < 128) continue;
            seen[n] = 1;
            stack.push(n);
          }
        }
      }
      areas.push(size);
    }
    return areas.sort((a, b) => a - b);
  }

  test.each([1, 2, 3])('areas are those of a flood fill, by sides and by corners, seed %d', (seed) => {
    const mask = noiseMask(seed, 37, 29);
    for (const connectivity of [4, 8] as const) {
      const regions = findRegions(mask.data, 37, 29, { low: 128, high: 255, connectivity });
      expect([...regions.areas].sort((a, b) => a - b)).toEqual(countByFlood(mask, connectivity));
    }
  });
});

describe('strays and pinholes', () => {
  const picture = drawMask(['...........', '.####...#..', '.#..#......', '.####...##.', '........+..', '...........']);

  test('are counted with their places, and changed only when told', () => {
    const shown = apply('drop-strays', picture, { below: 4 });
    expect(shown.mask).toBe(picture);
    expect(shown.found).toMatchObject({ count: 2, texels: 4 });
    expect(shown.found!.places[0]).toEqual({ x0: 8, y0: 3, x1: 10, y1: 5, texels: 3, at: [8, 3] });
    const dropped = apply('drop-strays', picture, { below: 4, applied: true });
    expect(showMask(dropped.mask)).toEqual([
      '...........',
      '.####......',
      '.#..#......',
      '.####......',
      '...........',
      '...........',
    ]);
  });

  test('one that is left stays; the count still tells of it', () => {
    const { mask, found } = apply('drop-strays', picture, { below: 4, applied: true, left: [[8, 1]] });
    expect(found!.count).toBe(2);
    expect(showMask(mask)[1]).toBe('.####...#..');
  });

  test('the soft rim goes with its stray, that of the subject stays', () => {
    const rims = makeMask(9, 1, Uint8Array.of(0, 90, 200, 90, 0, 90, 255, 255, 90));
    const { mask } = apply('drop-strays', rims, { below: 2, applied: true });
    expect([...mask.data]).toEqual([0, 0, 0, 0, 0, 90, 255, 255, 90]);
  });

  test('pinholes close, the outside stays open', () => {
    const { mask, found } = apply('close-pinholes', picture, { below: 3, applied: true });
    expect(found!.count).toBe(1);
    expect(showMask(mask)[2]).toBe('.####......');
  });

  test('at view size the number still means texels of the full size', () => {
    expect(apply('drop-strays', picture, { below: 16 }, 0.5).found!.count).toBe(2);
  });
});

describe('cut below and opacity factor', () => {
  test('what lies under the height is dropped, the rest stays as it was', () => {
    const heights = makePicture(4, 1, Uint8Array.from([0, 100, 140, 255].flatMap((v) => [v, v, v, 255])));
    const mask = makeMask(4, 1, Uint8Array.of(255, 255, 200, 255));
    const params = { at: 0.5, softness: 0, sourceId: 'height' };
    const { mask: out } = after('cut-below', stateOf(heights, mask), params, env({ height: heights }));
    expect([...out.data]).toEqual([0, 0, 200, 255]);
  });

  test('alpha times a factor', () => {
    const mask = makeMask(3, 1, Uint8Array.of(0, 100, 255));
    expect([...apply('opacity-factor', mask, { factor: 0.3 }).mask.data]).toEqual([0, 30, 77]);
  });
});

describe('perforate', () => {
  test.each(['dots', 'lines', 'hexagons'] as const)('%s keep as much area as the tone says', (pattern) => {
    for (const tone of [0, 26, 102, 128, 204, 255]) {
      const mask = makeMask(240, 240, new Uint8Array(240 * 240).fill(tone));
      const out = apply('perforate', mask, { pattern, size: 12, angle: 31 }).mask;
      expect(new Set(out.data).size).toBeLessThanOrEqual(2);
      expect(Math.abs(area(out) / 57600 - tone / 255)).toBeLessThan(0.012);
    }
  });

  test('gain makes dots larger, black and white stay', () => {
    const grey = makeMask(120, 120, new Uint8Array(14400).fill(128));
    expect(area(apply('perforate', grey, { gain: 0.2 }).mask)).toBeGreaterThan(0.65 * 14400);
    const white = makeMask(8, 8, new Uint8Array(64).fill(255));
    expect(area(apply('perforate', white, { gain: -0.5 }).mask)).toBe(64);
  });
});

describe('combine', () => {
  const picture = makePicture(2, 2, Uint8Array.from([255, 0, 200, 0, 0, 255, 90, 9, 255, 255, 10, 9, 0, 0, 0, 9]));
  const run = (how: StepParams['combine']['how'], stepId = 'red') =>
    evaluateRun(
      [
        makeStep('red', 'from-channel', { channel: 'red' }),
        makeStep('green', 'from-channel', { channel: 'green' }),
        makeStep('both', 'combine', { how, stepId }),
      ],
      { sources: [{ id: 's', sha256: 'x', picture }] },
    );

  test('joins the mask so far with that after an earlier step', () => {
    expect([...run('keep both').mask.data]).toEqual([0, 0, 255, 0]);
    expect([...run('keep either').mask.data]).toEqual([255, 255, 255, 0]);
    expect([...run('take away').mask.data]).toEqual([0, 255, 0, 0]);
    expect([...run('multiply').mask.data]).toEqual([0, 0, 255, 0]);
  });

  test('a step that is not before it is an error of that step alone', () => {
    const { steps, mask } = run('keep both', 'later');
    expect(steps[2].error?.code).toBe('missing-step');
    expect([...mask.data]).toEqual([0, 255, 255, 0]);
  });
});

test('sine and cosine are those of Math to the last few bits', () => {
  for (let degrees = -400; degrees <= 800; degrees += 7.3) {
    expect(sine(degrees)).toBeCloseTo(Math.sin((degrees * Math.PI) / 180), 13);
    expect(cosine(degrees)).toBeCloseTo(Math.cos((degrees * Math.PI) / 180), 13);
  }
});

describe('beside scikit-image and scipy (check values of fixtures/make-checks.py)', () => {
  const theirs = fixtureJson<{
    kept: string[];
    areas8: number[];
    areas4: number[];
    dilated3: string[];
    eroded3: string[];
    grown2_5: number[];
  }>('morphology.json');
  const mask = drawMask(theirs.kept);
  const { width, height, data } = mask;

  test('kept regions hang together by corners, dropped ones by sides: the same regions', () => {
    const areas = (low: number, high: number, connectivity: 4 | 8) =>
      [...findRegions(data, width, height, { low, high, connectivity }).areas].sort((a, b) => a - b);
    expect(areas(128, 255, 8)).toEqual(theirs.areas8);
    expect(areas(0, 127, 4)).toEqual(theirs.areas4);
  });

  test('dilation and erosion by a disc of 3 are what lies within 3 of the nearest texel', () => {
    const within = (below: boolean) =>
      [...nearestTexels(mask, { threshold: 128, below }, env())].map((at, i) => {
        const [dx, dy] = [(at % width) - (i % width), Math.floor(at / width) - Math.floor(i / width)];
        return at >= 0 && dx * dx + dy * dy <= 9;
      });
    const rows = (kept: boolean[]) =>
      showMask(
        makeMask(
          width,
          height,
          Uint8Array.from(kept, (k) => (k ? 255 : 0)),
        ),
      );
    expect(rows(within(false))).toEqual(theirs.dilated3);
    expect(rows(within(true).map((near) => !near))).toEqual(theirs.eroded3);
  });

  test('grow by 2.5 covers what the shape at 8 × 8 samples a texel covers when it is grown', () => {
    const grown = apply('grow', mask, { by: 2.5 }).mask.data;
    const apart = theirs.grown2_5.map((share, i) => Math.abs(share - grown[i]));
    const mean = apart.reduce((a, b) => a + b, 0) / apart.length;
    const agree = theirs.grown2_5.filter((share, i) => share >= 128 === grown[i] >= 128).length;
    expect(mean).toBeLessThan(1.5);
    expect(agree / apart.length).toBeGreaterThan(0.995);
  });
});
