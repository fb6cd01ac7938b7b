import { describe, expect, test } from '@jest/globals';
import {
  allocateHeap,
  aroundStem,
  bladesOf,
  CORNERS,
  drawnStrands,
  fingerprint,
  growRecipe,
  isRecipeKey,
  makeRecipe,
  recipeKey,
  RECIPE_KINDS,
  RECIPE_KIND_NAMES,
  sceneOf,
  WEAVE_PATTERNS,
  type NetCorners,
  type Recipe,
  type TuftParams,
  type WeaveParams,
} from '@lithe-sieve/core/testing';
import { areasAt, areaSlots, deposit } from '../src/recipe/deposit.ts';
import { strewn } from '../src/recipe/roots.ts';
import { layOut } from '../src/simd/simd.ts';
import { catenary } from '../src/recipe/weave/catenary.ts';

function grow(recipe: Recipe, scale = 1, band = 64) {
  return growRecipe(recipe, {
    scale,
    allocate: allocateHeap,
    bands(height, rows) {
      for (let y = 0; y < height; y += band) rows(y, Math.min(height, y + band));
    },
  });
}
const alphaOf = (recipe: Recipe) => grow(recipe).picture.data.filter((_, i) => i % 4 === 3);
const mean = (values: ArrayLike<number>) => Array.from(values).reduce((sum, v) => sum + v, 0) / values.length;

/** Percent of a seamless weave that is open. */
function open(params: Partial<WeaveParams>): number {
  const recipe = makeRecipe('weave', { uneven: 0, seamless: true, across: 400, width: 256, height: 256, ...params });
  return 100 - (100 * mean(alphaOf(recipe))) / 255;
}

describe('open area against the formulas of the standards', () => {
  // formulas from memory: ISO 9044 for woven wire cloth, ISO 7806 for perforated plate; the areas themselves are geometry
  test.each([[50, 10], [40, 4], [20, 8]])('woven wire cloth, pitch %d and wire %d mm: (w / (w + d))²', (pitch, thick) => {
    const w = pitch - thick;
    expect(Math.abs(open({ pattern: 'wire cloth', pitch, thick }) - 100 * (w / pitch) ** 2)).toBeLessThan(0.3);
  }); // prettier-ignore

  test('round holes, straight: 78.54 (d / p)²', () => {
    const found = open({ pattern: 'round holes, straight', pitch: 20, thick: 12 });
    expect(Math.abs(found - 78.54 * (12 / 20) ** 2)).toBeLessThan(0.3);
  });

  /** Rows are rounded to whole repeats: the card is made as tall as so many of them. */
  const staggered = (rows: number, pitch: number) => ({
    pitch,
    width: 512,
    height: Math.round((512 * ((rows * pitch * Math.sqrt(3)) / 2)) / 400),
  });

  test('round holes staggered by 60°: 90.69 (d / p)²', () => {
    const found = open({ pattern: 'round holes, staggered', thick: 14, ...staggered(20, 20) });
    expect(Math.abs(found - 90.69 * (14 / 20) ** 2)).toBeLessThan(0.3);
  });

  test('hexagons in a honeycomb: (a / p)² across flats; slots by rectangle and half discs', () => {
    expect(Math.abs(open({ pattern: 'hexagons', thick: 16, ...staggered(20, 20) }) - 64)).toBeLessThan(0.3);
    const [wide, long, pitch] = [8, 22, 26]; // centres pitch + long − wide apart in a row
    const area = wide * (long - wide) + (Math.PI * wide * wide) / 4;
    const frame = { ...staggered(16, pitch), across: 400 };
    const cell = (pitch + long - wide) * ((pitch * Math.sqrt(3)) / 2);
    const found = open({ pattern: 'slots', thick: wide, long, ...frame });
    expect(Math.abs(found - (100 * area) / cell)).toBeLessThan(0.3);
  });

  test('planks and slats: gap over pitch', () => {
    for (const pattern of ['planks', 'slats'] as const) {
      expect(Math.abs(open({ pattern, pitch: 50, thick: 41 }) - 18)).toBeLessThan(0.3);
    }
  });
});

test('a chain hangs as y = a cosh(x / a)', () => {
  for (const dip of [0.02, 0.2, 1.5]) {
    const hang = catenary(dip);
    expect(hang(0.5)).toBeCloseTo(dip, 9);
    expect(hang(0)).toBeCloseTo(0, 12);
    // a from the curvature at the lowest point, 1 / a; then the whole curve against the library's cosh
    const h = 1e-3;
    const a = (h * h) / (2 * hang(0.5) - hang(0.5 - h) - hang(0.5 + h));
    for (const x of [0.05, 0.3, 0.8]) {
      const known = a * (Math.cosh(0.5 / a) - Math.cosh((x - 0.5) / a));
      expect(Math.abs(hang(x) - known)).toBeLessThan(2e-4 * dip);
    }
  }
});

test('no two roots nearer than r, and nowhere room for another two apart (Bridson 2007)', () => {
  const [width, height, r] = [1, 0.6, 0.05];
  const fixed = [{ x: 0.5, y: 0.3 }];
  const roots = [...strewn(width, height, r, 7, 1000, fixed), ...fixed];
  const far = (p: { x: number; y: number }, q: { x: number; y: number }) => Math.hypot(p.x - q.x, p.y - q.y);
  const nearest = Math.min(...roots.flatMap((p, i) => roots.slice(i + 1).map((q) => far(p, q))));
  expect(nearest).toBeGreaterThanOrEqual(r);
  for (let x = 0; x <= width; x += 0.02) {
    for (let y = 0; y <= height; y += 0.02) {
      expect(Math.min(...roots.map((q) => far({ x, y }, q)))).toBeLessThan(2 * r);
    }
  }
});

test('edges give the exact area of a polygon in every texel', () => {
  const areas = areasAt(layOut(areaSlots(8, 8)), 8);
  const corners = [[1.3, 0.4], [6.7, 2.2], [4.1, 7.3], [2.2, 3.9]]; // prettier-ignore
  deposit(areas, Float64Array.from(corners.flat()), 0, 4, 0, 8);
  const isInside = (x: number, y: number) =>
    corners.every(([ax, ay], i) => {
      const [bx, by] = corners[(i + 1) % 4];
      return (bx - ax) * (y - ay) - (by - ay) * (x - ax) >= 0;
    });
  for (let y = 0; y < 8; y++) {
    let cover = 0;
    for (let x = 0; x < 8; x++) {
      cover += areas.sums[y * areas.stride + x];
      let hits = 0;
      for (let k = 0; k < 10_000; k++) if (isInside(x + ((k % 100) + 0.5) / 100, y + (Math.floor(k / 100) + 0.5) / 100)) hits++; // prettier-ignore
      expect(Math.abs(Math.abs(cover) - hits / 10_000)).toBeLessThan(0.004);
    }
  }
});

test('the normal of a half-round wire is the cylinder’s', () => {
  const recipe = makeRecipe('weave', { pattern: 'wire cloth', across: 100, pitch: 100, thick: 60, uneven: 0, width: 200, height: 40 }); // prettier-ignore
  const { maps } = grow(recipe);
  const normal = maps.get('normal')!.data;
  // the upright wire lies in front in the first crossing: its middle at 100 texels, half its width 60
  for (const x of [45, 70, 99, 130, 155]) {
    const t = (x + 0.5 - 100) / 60;
    const [nx, ny, nz] = [0, 1, 2].map((c) => (normal[3 * (10 * 200 + x) + c] - 32768) / 32767.5);
    const dot = nx * t + nz * Math.sqrt(1 - t * t);
    expect(Math.acos(Math.min(1, dot))).toBeLessThan((0.8 * Math.PI) / 180); // profiles have 257 places across
    expect(Math.abs(ny)).toBeLessThan(1e-3);
  }
});

describe('what is random', () => {
  const params: TuftParams = { ...RECIPE_KINDS.tuft.defaults, blades: 2000, envelope: [0.8] };
  const blades = [1, 2, 3, 4, 5].flatMap((seed) => bladesOf(params, seed, { ratio: 1, version: 2 }));

  test('10,000 blades: mean and range of bend, length and width, share mirrored and torn', () => {
    const bends = blades.map((b) => Math.abs(b.bend));
    expect(Math.min(...bends)).toBeGreaterThanOrEqual(params.bendFrom);
    expect(Math.max(...bends)).toBeLessThanOrEqual(params.bendTo);
    expect(mean(bends)).toBeCloseTo((params.bendFrom + params.bendTo) / 2, -0.3);
    const whole = blades.filter((b) => !b.torn);
    expect(mean(whole.map((b) => b.length))).toBeCloseTo(0.8 * (1 - params.shorter / 2), 2);
    expect(mean(blades.map((b) => b.half))).toBeCloseTo((params.bladeWidth / 2) * (1 - params.slimmer / 2), 4);
    expect(1 - whole.length / blades.length).toBeCloseTo(params.torn, 1.9);
    const inward = blades.filter((b) => Math.sign(b.bend) !== Math.sign(b.x - 0.5));
    expect(Math.abs(inward.length / blades.length - params.mirrored)).toBeLessThan(0.015);
  });

  test('a pinned blade stays as it is under another seed, and at its place', () => {
    const [, blade] = blades;
    const pinned = [{ blade: blade.index, seed: blade.seed, x: blade.x, y: blade.y, turn: 0, stretch: 1 }];
    expect(bladesOf({ ...params, pinned }, 99, { ratio: 1, version: 2 })[blade.index]).toEqual(blade);
    for (const strewing of ['along a line', 'over an area'] as const) {
      const all = bladesOf({ ...params, blades: 50, strewing, pinned }, 99, { ratio: 1, version: 2 });
      expect(all[blade.index]).toMatchObject({ x: blade.x, y: blade.y });
      const beyond = [...pinned, { ...pinned[0], blade: 400 }]; // more blades were there when it was pinned
      expect(bladesOf({ ...params, blades: 50, strewing, pinned: beyond }, 99, { ratio: 1, version: 2 })).toEqual(all);
    }
  });
});

/** Those that draw by themselves; an atlas has nothing but parts. */
const DRAWN = RECIPE_KIND_NAMES.filter((kind) => kind !== 'atlas');

test('the same bytes for a seed whatever the bands, other bytes for another; at half the size the same places', () => {
  for (const kind of DRAWN) {
    const recipe = makeRecipe(kind, { width: 256, height: 256, seed: 4 });
    const once = grow(recipe);
    expect(fingerprint(grow(recipe, 1, 7).picture)).toBe(fingerprint(once.picture));
    expect(fingerprint(grow({ ...recipe, seed: 5 }).picture)).not.toBe(fingerprint(once.picture));
    const half = grow(recipe, 0.5).picture;
    const off = Array.from({ length: 128 * 128 }, (_, i) => {
      const at = 4 * (2 * Math.floor(i / 128) * 256 + 2 * (i % 128)) + 3;
      const { data } = once.picture;
      return Math.abs(half.data[4 * i + 3] - (data[at] + data[at + 4] + data[at + 1024] + data[at + 1028]) / 4);
    });
    expect(mean(off)).toBeLessThan(6); // of 255; where edges of several shapes meet in a texel, their shares are only multiplied
  }
});

test('strands cover the same at twice the size', () => {
  const side = 256;
  const alpha = (n: number, version: number) =>
    grow({ ...makeRecipe('strands', { width: n, height: n, least: 0, thick: 0.006 }), version }).picture.data;
  const off = (version: number) => {
    const [small, large] = [alpha(side, version), alpha(2 * side, version)];
    let sum = 0;
    for (let i = 0; i < side * side; i++) {
      const o = 8 * (Math.floor(i / side) * 2 * side + (i % side)) + 3;
      const mean = (large[o] + large[o + 4] + large[o + 8 * side] + large[o + 8 * side + 4]) / 4;
      sum += Math.abs(small[4 * i + 3] - mean);
    }
    return sum / (side * side);
  };
  expect(off(1)).toBeGreaterThan(3);
  expect(off(2)).toBeLessThan(0.5);
});

test('thin strands are drawn finer up to 2048² texels in all, however tall the card is', () => {
  const { strands } = RECIPE_KINDS;
  const of = (width: number, height: number, version = 2) =>
    strands.finer!({ ...strands.defaults, least: 0 }, { width, height }, version);
  expect([of(64, 64), of(256, 256), of(512, 512), of(2048, 2048)]).toEqual([8, 8, 4, 1]);
  expect([of(256, 8192), of(64, 8192), of(512, 512, 1)]).toEqual([1, 2, 1]);
});

test('heights of a tuft belong to its root line; an earlier one looks alike when it is brought up to that', () => {
  const before = { ...RECIPE_KINDS.tuft.defaults, envelope: [0.35, 0.6, 0.85, 0.95, 0.85, 0.6, 0.35] };
  const lengths = (params: TuftParams, version: number) =>
    bladesOf(params, 4, { ratio: 1, version }).map((blade) => blade.length);
  const [own, alike] = [lengths(before, 1), lengths(RECIPE_KINDS.tuft.upgraded!(before), 2)];
  own.forEach((length, k) => expect(Math.abs(alike[k] - length)).toBeLessThan(0.01));
  const ends = lengths({ ...before, shorter: 0, torn: 0, clumping: 0 }, 2).sort((a, b) => a - b);
  expect(ends[0]).toBeLessThan(0.37); // the outermost handle is that of the outermost blade
  expect(ends.at(-1)).toBeGreaterThan(0.94);
});

test('every version of a recipe gives the same bytes for good', () => {
  // computed once, when the version came: what changes them needs a new version beside the old one
  const size = { width: 96, height: 96, seed: 12 };
  const tuft = { ...size, envelope: [0.35, 0.6, 0.85, 0.95, 0.85, 0.6, 0.35] };
  const lace = { pattern: 'lace', across: 100, pitch: 25, thick: 2, long: 6 } as const;
  const lattice = {
    ...size,
    pattern: 'lattice',
    height: 60,
    pitch: 120,
    uneven: 0.5,
    torn: 0.1,
    seamless: true,
  } as const;
  const cloth = { pattern: 'twill cloth', across: 90, pitch: 4, holes: 2, holeSize: 20, fray: 0.2 } as const;
  const known = Object.fromEntries(
    [
      ...DRAWN.map(
        (kind) => [`${kind} 1`, { ...makeRecipe(kind, kind === 'tuft' ? tuft : size), version: 1 }] as const,
      ),
      ['tuft 2', makeRecipe('tuft', tuft)] as const,
      ['strands 2', makeRecipe('strands', size)] as const,
      ['lace 1', makeRecipe('weave', { ...size, ...lace })] as const,
      ['lattice 1', { ...makeRecipe('weave', lattice), version: 1 }] as const,
      ['lattice 2', makeRecipe('weave', lattice)] as const,
      ['torn cloth 1', makeRecipe('weave', { ...size, ...cloth })] as const,
    ].map(([name, recipe]) => {
      const { picture, maps } = grow(recipe);
      return [name, [picture, ...maps.values()].map((raster) => fingerprint(raster)).join(' ')];
    }),
  );
  expect(known).toEqual({
    'tuft 1': 'a5b180aed547eeb5 25c9760bfbe3590e c3530d2166eb4447 0cc323df83002e44 cc2be99fb4b8c7c7 97a1c971777c013a',
    'tuft 2': 'd06b426e5329f1ba a1957a77db5318fe 0eace16479f15906 020e7cc454aefbf7 36f9caaf8e849c36 469a2e88715d07e7',
    'spray 1': 'cfef2bd2948a32b5 7c2edc36e4b1d42f 0524a15644e755ba 5f0fc7061ad8bc06 cfc1c77840c39aa2 07fbd252c59342a2',
    'strands 1':
      'b0d36fab72237230 1f12f04f8c76f336 6079ca804ea81859 a58ab113b458db5f 596eb2b89d97af8f ec1cbbc2107a8fe8',
    'strands 2':
      '4d0b7de1557b97c7 95bce16f89302fb8 04016d6f675484e7 a58ab113b458db5f edae967c3e2d8ae5 8d7bc5297e000518',
    'weave 1': '46a0d0b01206f054 07c5af5cfba6e1cc c7ad35440b96e307 6d82f1956683e231 eac1796d1828e93c 2c77a6958d732bba',
    'lace 1': '87f7e06d2071d82a c6d94a781ffd566e 315d7a4426bf1703 900f5a900565932a ae755e277d91eae5 47d095631e1043af',
    'lattice 1':
      'c8ae08089af907d3 42c0c892ffad7c14 564e15624940ad93 37a40ce706ac48f0 8c15d56b233aa6c5 50329116d36d80e1',
    'lattice 2':
      '74cf911244c797a1 585862fba9814cb2 564e15624940ad93 c7c9f70137b48c52 6bcda6cf7efc34fd a5af0a8c13565848',
    'torn cloth 1':
      'b688a290bb3f615d 74f65087f477cc6f 43f1433019e6f7c7 f5be33bb6cf6ecda a313ce1f6eb21e26 daae0310e35112a7',
  });
});

test('what repeats goes on across its borders', () => {
  for (const pattern of WEAVE_PATTERNS) {
    const recipe = makeRecipe('weave', { pattern, across: 400, pitch: 50, thick: 20, long: 24, uneven: 0.3, seamless: true, width: 160, height: 160 }); // prettier-ignore
    const alpha = alphaOf(recipe);
    const step = (from: number, by: number, every: number) =>
      mean(Array.from({ length: 160 }, (_, k) => Math.abs(alpha[from + k * every] - alpha[from + k * every + by])));
    const inside = Math.max(...Array.from({ length: 158 }, (_, x) => step(x, 1, 160)));
    const insideDown = Math.max(...Array.from({ length: 158 }, (_, y) => step(y * 160, 160, 1)));
    expect(step(0, 159, 160)).toBeLessThanOrEqual(inside + 2);
    expect(step(0, 159 * 160, 1)).toBeLessThanOrEqual(insideDown + 2);
  }
});

test('a lattice repeats on cards of any shape, uneven and torn: what leaves below comes in above (geometry)', () => {
  const border = (version: number, height: number) => {
    const params = {
      pattern: 'lattice',
      across: 400,
      pitch: 50,
      thick: 20,
      uneven: 0.6,
      torn: 0.2,
      seamless: true,
    } as const;
    const recipe = { ...makeRecipe('weave', { ...params, width: 192, height, seed: 3 }), version };
    const alpha = alphaOf(recipe);
    // a lattice goes down by no more than its slope: a texel of the last row has one like it within two of the first
    let alone = 0;
    for (let x = 0; x < 192; x++) {
      const own = alpha[(height - 1) * 192 + x];
      const near = [-2, -1, 0, 1, 2].map((d) => alpha[(x + d + 192) % 192]);
      if (own < Math.min(...near) - 8 || own > Math.max(...near) + 8) alone++;
    }
    return alone;
  };
  for (const height of [128, 192, 250, 300]) expect([height, border(2, height)]).toEqual([height, 0]);
  expect(border(1, 250)).toBeGreaterThan(3);
});

test('leaves stand as their order says; a spiral by the golden angle (Vogel 1979)', () => {
  expect(aroundStem('spiral', 1, 0, 1) - aroundStem('spiral', 0, 0, 1)).toBeCloseTo(180 * (3 - Math.sqrt(5)), 9);
  expect([0, 1, 2].map((place) => aroundStem('alternate', place, 0, 1))).toEqual([90, 270, 90]);
  expect([0, 1].map((k) => aroundStem('opposite', 5, k, 1))).toEqual([90, 270]);
  const whorl = [0, 1, 2].map((k) => aroundStem('whorled', 0, k, 3));
  expect([whorl[1] - whorl[0], whorl[2] - whorl[1]]).toEqual([120, 120]);
});

test('the stem of a spray goes from its root to its tip, however it bends', () => {
  for (const bend of [-90, 0, 60, 150]) {
    const scene = sceneOf(makeRecipe('spray', { places: 0, bend, rootX: 0.4, rootY: 0.9, tipX: 0.6, tipY: 0.2 }));
    const last = scene.numbers.length - 12;
    const [ux, uy] = [scene.numbers[last + 2], scene.numbers[last + 3]];
    const long = 1 / Math.hypot(ux, uy);
    const end = [0, 1].map((c) => scene.numbers[last + c] + scene.numbers[last + 2 + c] * long * long);
    expect(Math.hypot(end[0] - 0.6, end[1] - 0.2)).toBeLessThan(0.005); // an arc by 24 straight pieces
  }
});

test('strands too thin to be seen are fewer and thicker, and cover the same', () => {
  const params = { thick: 0.0008, taper: 0, strands: 300, clumping: 0, innerClumping: 0, flyaways: 0 };
  const share = (least: number) =>
    mean(alphaOf(makeRecipe('strands', { ...params, least, width: 512, height: 512 }))) / 255;
  expect(drawnStrands({ ...RECIPE_KINDS.strands.defaults, ...params, least: 2 }, 512).count).toBeLessThan(100);
  expect(Math.abs(share(2) - share(0))).toBeLessThan(0.02);
});

test('root to tip goes from 0 at the roots to 255 at the tips; ids keep to one strand', () => {
  const { maps } = grow(makeRecipe('strands', { strands: 1, thick: 0.1, taper: 0, shorter: 0, wave: 0, flyaways: 0, guides: [[0.5, 0, 0.5, 0.33, 0.5, 0.67, 0.5, 1]], width: 64, height: 64 })); // prettier-ignore
  const column = Array.from({ length: 64 }, (_, y) => maps.get('rootTip')!.data[64 * y + 32]);
  for (const [y, v] of column.entries()) expect(Math.abs(v - (255 * (y + 0.5)) / 64)).toBeLessThan(4);
  const ids = new Set(Array.from({ length: 64 }, (_, y) => maps.get('tintId')!.data[64 * y + 32]));
  expect(ids.size).toBe(1);
});

test('nothing, too much, and what is newer', () => {
  expect(Math.max(...alphaOf(makeRecipe('tuft', { blades: 0, width: 64, height: 64 })))).toBe(0);
  expect(() => grow(makeRecipe('weave', { pitch: 0.5, across: 20000, width: 64, height: 64 }))).toThrow(
    'more crossings',
  );
  expect(() => grow({ ...makeRecipe('tuft'), version: 3 })).toThrow('version 3');
});

test('a key follows what is in a recipe, not the order it stands in', () => {
  const recipe = makeRecipe('weave');
  const turned = {
    ...recipe,
    params: Object.fromEntries(Object.entries(recipe.params).reverse()),
  } as unknown as Recipe;
  expect(recipeKey(turned)).toBe(recipeKey(recipe));
  expect(recipeKey({ ...recipe, seed: 2 })).not.toBe(recipeKey(recipe));
  expect(isRecipeKey(recipeKey(recipe))).toBe(true);
});

test('torn holes and a frayed hem take threads away where they say; lace repeats without a seam', () => {
  const cloth = { pattern: 'wire cloth', across: 100, pitch: 4, thick: 3.9, uneven: 0, torn: 0, width: 256, height: 256 } as const; // prettier-ignore
  const rows = (params: object) => {
    const alpha = alphaOf(makeRecipe('weave', { ...cloth, ...params }));
    return Array.from({ length: 256 }, (_, y) => mean(alpha.subarray(256 * y, 256 * y + 256)) / 255);
  };
  const [whole, frayed] = [rows({}), rows({ fray: 0.3 })];
  expect(frayed.slice(0, 170)).toEqual(whole.slice(0, 170));
  expect(Math.max(...frayed.slice(190))).toBeLessThan(0.99); // level threads are gone
  expect(frayed[250]).toBeLessThan(frayed[200]); // upright ones end one after the other
  const holed = rows({ holes: 3, holeSize: 20 });
  const lost = (256 * (mean(whole) - mean(holed))) / 256;
  expect(lost).toBeGreaterThan(0.03);
  expect(lost).toBeLessThan(0.3); // three discs of up to 1.4 × 20 mm and a ragged rim: at most 0.29 of the card
  const lace = alphaOf(makeRecipe('weave', { pattern: 'lace', across: 100, pitch: 25, thick: 2, long: 6, seamless: true, width: 128, height: 128 })); // prettier-ignore
  const column = (x: number) => Array.from({ length: 128 }, (_, y) => lace[128 * y + x]);
  const off = (p: number[], q: number[]) => mean(p.map((v, i) => Math.abs(v - q[i])));
  expect(off(column(127), column(0))).toBeLessThan(2 * off(column(63), column(64)) + 12);
  expect(mean(lace) / 255).toBeGreaterThan(0.2);
  expect(mean(lace) / 255).toBeLessThan(0.8);
});

test('a framed weave hangs from its corners, a seamless one does not', () => {
  const params = {
    pattern: 'square net',
    across: 100,
    pitch: 20,
    thick: 2,
    uneven: 0,
    width: 128,
    height: 128,
  } as const;
  const boundsOf = (corners: NetCorners, seamless = false) => {
    const { corners: found } = sceneOf(makeRecipe('weave', { ...params, corners, seamless }));
    return found.filter((_, i) => i % 2 === 0).reduce(([a, b], x) => [Math.min(a, x), Math.max(b, x)], [9, -9]);
  };
  const [left, right] = boundsOf([0.4, 0, 0.6, 0, 0.6, 1, 0.4, 1]);
  const [from, to] = boundsOf(CORNERS); // threads stay as thick as they are
  expect([left, right]).toEqual([expect.closeTo(0.4 + 0.2 * from, 1), expect.closeTo(0.4 + 0.2 * to, 1)]);
  expect(boundsOf([0.4, 0, 0.6, 0, 0.6, 1, 0.4, 1], true)).toEqual(boundsOf(CORNERS, true));
  expect(fingerprint(grow(makeRecipe('weave', { ...params, corners: CORNERS })).picture)).toBe(
    fingerprint(grow(makeRecipe('weave', params)).picture),
  );
});
