import { describe, expect, test } from '@jest/globals';
import {
  angleOf,
  ciede2000,
  fitBackdrop,
  labFromBytes,
  makeMask,
  makePicture,
  oklabFromBytes,
  srgbToLinear,
  linearToSrgb,
  type Channel,
  type Lab,
  type Picture,
  type StepKindName,
  type StepParams,
} from '../src/testing.ts';
import { geodesicDistance } from '../src/matte/geodesic.ts';
import { fixtureJson } from './helpers/node-codecs.ts';
import { after, env, noisePicture, random, showMask, stateOf } from './helpers/pictures.ts';

function apply<K extends StepKindName>(
  kind: K,
  colour: Picture,
  params: Partial<StepParams[K]>,
  { mask, sources = {} }: { mask?: ReturnType<typeof makeMask>; sources?: Record<string, Picture> } = {},
) {
  return after(kind, stateOf(colour, mask), params, env(sources));
}

type Paint = (x: number, y: number) => readonly [number, number, number];
function paint(width: number, height: number, at: Paint): Picture {
  const data = new Uint8Array(4 * width * height);
  for (let i = 0; i < width * height; i++) data.set([...at(i % width, Math.floor(i / width)), 255], 4 * i);
  return makePicture(width, height, data);
}

describe('CIEDE2000', () => {
  test('the 34 published pairs (Sharma, Wu, Dalal 2005)', () => {
    const { pairs } = fixtureJson<{ pairs: number[][] }>('ciede2000.json');
    expect(pairs.length).toBe(34);
    for (const [L1, a1, b1, L2, a2, b2, wanted] of pairs) {
      expect(ciede2000([L1, a1, b1], [L2, a2, b2])).toBeCloseTo(wanted, 4);
      expect(ciede2000([L2, a2, b2], [L1, a1, b1])).toBeCloseTo(wanted, 4);
    }
  });

  test('L*a*b* of sRGB red (common practice: 53.24, 80.09, 67.20 at D65)', () => {
    const wanted: Lab = [53.24, 80.09, 67.2];
    labFromBytes(255, 0, 0).forEach((v, i) => expect(v).toBeCloseTo(wanted[i], 1));
    labFromBytes(255, 255, 255).forEach((v, i) => expect(v).toBeCloseTo([100, 0, 0][i], 9));
  });

  test('the lattice reads distances as the formula gives them, to one part of a hundred', () => {
    const colour = noisePicture(7, 24, 24);
    const params = { drop: [[90, 130, 60]] as [number, number, number][], tolerance: 0.25, softness: 0.3 };
    const { data } = apply('from-colour', colour, { ...params, metric: 'CIEDE2000' }).mask;
    for (let i = 0; i < data.length; i++) {
      const [r, g, b] = colour.data.subarray(4 * i, 4 * i + 3);
      const far = ciede2000(labFromBytes(r, g, b), labFromBytes(90, 130, 60)) / 100;
      const wanted = Math.min(255, Math.max(0, 128 + ((far - 0.25) * 255) / 0.3));
      expect(Math.abs(data[i] - wanted)).toBeLessThan(0.01 * (255 / 0.3));
    }
  });
});

test('angles are those of Math.atan2', () => {
  for (let d = 0; d < 360; d += 3.7) {
    const r = (d * Math.PI) / 180;
    expect(angleOf(3 * Math.sin(r), 3 * Math.cos(r))).toBeCloseTo(d, 10);
  }
  expect([angleOf(0, 0), angleOf(0, -1), angleOf(-1, 0)]).toEqual([0, 180, 270]);
});

test('from channel: measures of colour', () => {
  const picture = paint(
    3,
    1,
    (x) =>
      (
        [
          [200, 100, 50],
          [0, 0, 0],
          [70, 70, 70],
        ] as const
      )[x],
  );
  const pull = (channel: Channel) => [...apply('from-channel', picture, { channel }).mask.data];
  expect(pull('largest')).toEqual([200, 0, 70]);
  expect(pull('smallest')).toEqual([50, 0, 70]);
  expect(pull('saturation')).toEqual([191, 0, 0]); // 150 / 200
  expect(pull('lightness')).toEqual([
    Math.round(255 * oklabFromBytes(200, 100, 50)[0]),
    0,
    Math.round(255 * oklabFromBytes(70, 70, 70)[0]),
  ]);
});

/** A dark ring on paper, with paper inside it and a gap of one texel at the top. */
const ring = (gap: boolean) =>
  paint(15, 15, (x, y) => {
    const onRing = Math.max(Math.abs(x - 7), Math.abs(y - 7)) === 3 && !(gap && x === 7 && y === 4);
    return onRing ? [40, 60, 30] : [230, 228, 220];
  });

test('from colour, connected: paper inside the ring stays until it is touched', () => {
  const params = { drop: [[230, 228, 220]] as [number, number, number][], softness: 0 };
  const inside = (p: Partial<StepParams['from-colour']>) =>
    apply('from-colour', ring(false), { ...params, ...p }).mask.data[7 * 15 + 7];
  expect(inside({})).toBe(0);
  expect(inside({ reach: 'connected' })).toBe(255);
  expect(inside({ reach: 'connected', from: [[7, 7]] })).toBe(0);
  const outside = apply('from-colour', ring(false), { ...params, reach: 'connected', from: [[7, 7]] }).mask;
  expect(outside.data[0]).toBe(255);
});

describe('from touch', () => {
  test('takes the region around the point, and leaks through a gap unless gaps are closed', () => {
    const touch = (gaps: number) =>
      showMask(apply('from-touch', ring(true), { at: [[0, 0]], gaps, take: 'keep it' }).mask);
    expect(touch(0)[7][7]).toBe('#');
    expect(touch(2)[7][7]).toBe('.');
    expect(touch(2)[0]).toBe('###############');
  });

  test('dropping it keeps all the rest; without a point nothing happens', () => {
    const { mask } = apply('from-touch', ring(false), { at: [[7, 7]] });
    expect(showMask(mask)[7]).toBe('#####.....#####');
    expect(mask.data[0]).toBe(255);
    expect(new Set(apply('from-touch', ring(false), {}).mask.data)).toEqual(new Set([255]));
  });
});

describe('from backdrop', () => {
  const light = (x: number, y: number) => 1 - 0.2 * (x / 200) - 0.1 * (y / 200) ** 2;
  const scan = paint(200, 200, (x, y) => {
    const inside = (x - 100) ** 2 + (y - 90) ** 2 < 50 ** 2;
    const shaded = (x - 108) ** 2 + (y - 100) ** 2 < 52 ** 2 ? 0.82 : 1;
    const l = light(x, y) * (inside ? 1 : shaded);
    return (inside ? [80, 130, 50] : [214, 208, 198]).map((v) => v * l) as [number, number, number];
  });

  test('the surface is that which the backdrop was lit by', () => {
    const { grain, share, surface } = fitBackdrop(scan);
    expect(share).toBeGreaterThan(0.99);
    expect(grain).toBeLessThan(0.004);
    expect(surface[0] * 255).toBeCloseTo(214 * light(100, 100), 0); // at the middle, below the subject
  });

  test('subject kept, backdrop and its shadow dropped', () => {
    const { mask } = apply('from-backdrop', scan, {});
    const wrong = mask.data.filter(
      (v, i) => v >= 128 !== ((i % 200) - 100) ** 2 + (Math.floor(i / 200) - 90) ** 2 < 50 ** 2,
    );
    expect(wrong.length).toBeLessThan(40);
    const deep = apply('from-backdrop', scan, { shadow: 0.05 }).mask;
    expect(deep.data[150 * 200 + 118]).toBe(255); // a shadow deeper than allowed counts as subject
    expect(mask.data[150 * 200 + 118]).toBe(0);
  });

  test('a picture without a plain backdrop says so', () => {
    expect(() => apply('from-backdrop', noisePicture(3, 64, 64), {})).toThrow('of the border looks like one backdrop');
  });

  test('holes that still show the backdrop are proposed, and cleared one by one', () => {
    const holed = paint(200, 200, (x, y) => {
      const hole = (x - 90) ** 2 + (y - 80) ** 2 < 36 || (x - 115) ** 2 + (y - 100) ** 2 < 64;
      return (x - 100) ** 2 + (y - 90) ** 2 < 2500 && !hole ? [80, 130, 50] : [214, 208, 198];
    });
    const disc = makeMask(
      200,
      200,
      new Uint8Array(40000).map((_, i) => (((i % 200) - 100) ** 2 + (Math.floor(i / 200) - 90) ** 2 < 2500 ? 255 : 0)),
    );
    const shown = apply('clear-holes', holed, {}, { mask: disc });
    expect(shown.found!.places.map((p) => p.x1 - p.x0)).toEqual([15, 11]);
    expect(shown.mask.data).toEqual(disc.data);
    const { mask } = apply('clear-holes', holed, { taken: [[...shown.found!.places[1].at]] }, { mask: disc });
    expect([mask.data[80 * 200 + 90], mask.data[100 * 200 + 115]]).toEqual([0, 255]);
  });
});

describe('from two backdrops', () => {
  const next = random(5);
  const side = 64;
  const subject = Array.from({ length: side * side }, () => [40 + 180 * next(), 40 + 180 * next(), 40 + 180 * next()]);
  const alphaAt = (x: number, y: number) => Math.min(1, Math.max(0, (28 - Math.hypot(x - 32, y - 32)) / 9));
  /** The Porter–Duff `over` of the subject on a backdrop, in the values that are asked. */
  const over = (backdrop: number[], linear: boolean, shift = 0) =>
    paint(side, side, (x, y) => {
      const from = Math.min(side - 1, Math.max(0, x - shift));
      const a = alphaAt(from, y);
      return subject[y * side + from].map((f, c) => {
        if (!linear) return Math.round(a * f + (1 - a) * backdrop[c]);
        const mixed = a * srgbToLinear(f / 255) + (1 - a) * srgbToLinear(backdrop[c] / 255);
        return Math.round(255 * linearToSrgb(mixed));
      }) as [number, number, number];
    });

  test.each([true, false])('alpha within 1/255 on average, colour where it shows; linear light %s', (linear) => {
    const [dark, pale] = [over([20, 22, 24], linear), over([210, 205, 200], linear)];
    const params = { sourceId: 'pale', mixed: linear ? 'linear light' : 'encoded values' } as const;
    const { mask, colour, notice } = apply('from-two-backdrops', dark, params, { sources: { pale } });
    let error = 0;
    let off = 0;
    let n = 0;
    for (let i = 0; i < mask.data.length; i++) {
      const a = alphaAt(i % side, Math.floor(i / side));
      error += Math.abs(mask.data[i] / 255 - a) / mask.data.length;
      if (a < 0.5) continue;
      n++;
      for (let c = 0; c < 3; c++) off += Math.abs(colour.data[4 * i + c] - subject[i][c]) / 3;
    }
    expect(error).toBeLessThan(1 / 255);
    expect(off / n).toBeLessThan(2);
    expect(notice).toContain('line up');
  });

  test('a shift is measured and said; other sizes and like backdrops are refused', () => {
    const dark = over([20, 22, 24], true);
    const run = (pale: Picture) => apply('from-two-backdrops', dark, { sourceId: 'pale' }, { sources: { pale } });
    expect(run(over([210, 205, 200], true, 2)).notice).toContain('shifted by 2.0');
    expect(() => run(noisePicture(1, 8, 8))).toThrow('differ in size');
    expect(() => run(over([26, 24, 24], true))).toThrow('nearly the same colour');
  });
});

test('unmix: the subject’s own colour comes back from the fringe', () => {
  const mask = makeMask(4, 1, Uint8Array.of(255, 128, 64, 10));
  const mixed = paint(4, 1, (x) => {
    const a = mask.data[x] / 255;
    return [200, 100, 50].map((f) => Math.round(a * f + (1 - a) * 20)) as [number, number, number];
  });
  const { colour } = apply('unmix', mixed, { from: 'one colour', matte: [20, 20, 20] }, { mask });
  for (let i = 0; i < 3; i++) {
    [200, 100, 50].forEach((f, c) => expect(Math.abs(colour.data[4 * i + c] - f)).toBeLessThanOrEqual(3));
  }
  expect([...colour.data.subarray(12, 15)]).toEqual([...mixed.data.subarray(12, 15)]); // too little of it to tell
});

describe('from strokes', () => {
  test('ways are as short as Dijkstra finds them', () => {
    const side = 14;
    const colour = paint(side, side, (x, y) => (x === 6 && y < 11 ? [0, 0, 0] : [200, 200, 200]));
    const found = geodesicDistance(colour, [{ radius: 0.5, at: [[1, 1]] }], 20, env());
    const wanted = new Float64Array(side * side).fill(Infinity);
    wanted[side + 1] = 0;
    for (let round = 0; round < side * side; round++) {
      for (let i = 0; i < wanted.length; i++) {
        for (const [dx, dy] of [
          [1, 0],
          [0, 1],
          [1, 1],
          [1, -1],
          [-1, 0],
          [0, -1],
          [-1, -1],
          [-1, 1],
        ]) {
          const [x, y] = [(i % side) + dx, Math.floor(i / side) + dy];
          if (x < 0 || y < 0 || x >= side || y >= side) continue;
          const j = y * side + x;
          const step =
            Math.hypot(dx, dy) + (20 / 255) * Math.abs(colour.data[4 * i] - colour.data[4 * j]) * Math.sqrt(3);
          wanted[i] = Math.min(wanted[i], wanted[j] + step);
        }
      }
    }
    found.forEach((v, i) => expect(v).toBeCloseTo(wanted[i], 3));
  });

  test('both kinds spread to the edge of the picture between them', () => {
    const colour = paint(60, 40, (x) => (x < 33 ? [90, 140, 60] : [200, 195, 188]));
    const strokes = [
      {
        effect: 'keep' as const,
        radius: 1,
        at: [
          [5, 5],
          [9, 30],
        ] as [number, number][],
      },
      { effect: 'drop' as const, radius: 1, at: [[55, 20]] as [number, number][] },
    ];
    const { mask } = apply('from-strokes', colour, { strokes });
    expect(mask.data.every((v, i) => v >= 128 === i % 60 < 33)).toBe(true);
    expect(apply('from-strokes', colour, { strokes: strokes.slice(0, 1) }).notice).toContain(
      'scribble on what to drop',
    );
  });
});

describe('from other piece', () => {
  const other = paint(8, 4, (x, y) => (x < 4 && y < 2 ? [255, 255, 255] : [0, 0, 0]));
  const place = (params: Partial<StepParams['from-piece']>) =>
    showMask(
      apply(
        'from-piece',
        paint(12, 12, () => [9, 9, 9]),
        { sourceId: 'other', ...params },
        { sources: { other } },
      ).mask,
    );

  test('lies in the middle, or where it is put; beyond it nothing is kept', () => {
    const middle = place({});
    expect([middle[3], middle[4], middle[5], middle[6]]).toEqual([
      '............',
      '..####......',
      '..####......',
      '............',
    ]);
    expect(place({ x: 3, y: -4 })[0]).toBe('.....####...');
  });

  test('is turned clockwise and scaled about its middle', () => {
    const turned = place({ angle: 90 }); // what was at the top left is at the top right
    expect(turned.map((row) => row.slice(6, 8))).toEqual([
      '..',
      '..',
      '##',
      '##',
      '##',
      '##',
      '..',
      '..',
      '..',
      '..',
      '..',
      '..',
    ]);
    expect(place({ size: 2 }).filter((row) => /[#+]/.test(row)).length).toBe(4);
    expect(place({ size: 0.5 })[5]).toBe('....##......');
    expect(apply('from-piece', other, {}).notice).toContain('Choose the piece');
  });
});

describe('cut by another piece', () => {
  const other = paint(4, 4, (x) => (x < 2 ? [255, 255, 255] : [0, 0, 0]));
  const whole = paint(12, 4, () => [9, 9, 9]);
  const cut = (params: Partial<StepParams['cut-by-piece']>) =>
    // a texel is a millimetre here
    showMask(apply('cut-by-piece', whole, { sourceId: 'other', across: 4, ...params }, { sources: { other } }).mask); // prettier-ignore

  test('goes on over the whole card at its size in millimetres, from the middle; or all beyond it stays', () => {
    expect(cut({})[1]).toBe('##..##..##..');
    expect(cut({ x: 1 })[1]).toBe('.##..##..##.');
    expect(cut({ inverted: true })[1]).toBe('..##..##..##');
    expect(cut({ repeats: false })[1]).toBe('######..####');
    expect(cut({ repeats: false, inverted: true })[1]).toBe('####..######');
    expect(cut({ angle: 90, repeats: true })[0]).toBe('############');
    const wide = cut({ across: 8 })[1];
    expect([wide[0], wide[3], wide[7], wide[11]]).toEqual(['.', '#', '.', '#']);
    expect(apply('cut-by-piece', whole, {}).notice).toContain('Choose the piece');
  });
});
