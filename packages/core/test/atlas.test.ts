import { expect, test } from '@jest/globals';
import { pictureTools } from '@lithe-sieve/host';
import { glbTools } from '@lithe-sieve/host/glb';
import {
  allocateHeap,
  atlasRegions,
  fingerprint,
  growRecipe,
  makeMask,
  makePicture,
  makeRecipe,
  packAtlas,
  partedTo,
  partOf,
  PIECE_DEFAULTS,
  packHandOff,
  readBack,
  type PackTools,
  type AtlasParams,
  type Picture,
  type Raster,
  type Recipe,
  type RecipePart,
} from '@lithe-sieve/core/testing';
import { fewerCorners } from '../src/recipe/atlas/regions.ts';

const bands = (height: number, rows: (y0: number, y1: number) => void) => rows(0, height);
const checkpoint = () => undefined;
const pictures = new Map<string, Picture>();
const pictureOf = (sha256: string) => pictures.get(sha256);

function partFrom(picture: Picture, more: Partial<RecipePart> = {}): RecipePart {
  const sha256 = String(pictures.size).padStart(64, '0');
  pictures.set(sha256, picture);
  const { width, height } = picture;
  return { sha256, name: `Part ${pictures.size}`, width, height, piece: 'a-piece-id', revision: 0, ...more };
}

/** A bent leaf, as its piece comes to. */
function leaf(seed: number): RecipePart {
  const recipe = makeRecipe('tuft', { seed, width: 160, height: 160, blades: 1, envelope: [0.9], shorter: 0.5, bladeWidth: 0.2, slimmer: 0.5, fromX: 0.5, toX: 0.5, fromY: 0.95, toY: 0.95, leanSpread: 40, torn: 0 }); // prettier-ignore
  const { picture } = growRecipe(recipe, { scale: 1, allocate: allocateHeap, bands });
  const alpha = makeMask(
    160,
    160,
    picture.data.filter((_, i) => i % 4 === 3),
  );
  return partFrom(partOf({ colour: picture, mask: alpha, maps: new Map() }).picture);
}

type Atlas = Extract<Recipe, { kind: 'atlas' }>;
function atlasOf(parts: RecipePart[], params: Partial<AtlasParams> = {}, side = 512): Atlas {
  return { ...makeRecipe('atlas', { width: side, height: side, ...params }), parts } as Atlas;
}
const packed = (recipe: Atlas, keep = false) => packAtlas(recipe, { pictureOf, keep, checkpoint });
const grown = (recipe: Recipe, reliefOf?: (sha256: string) => Raster<Uint16Array> | undefined) =>
  growRecipe(recipe, { scale: 1, allocate: allocateHeap, bands }, { pictureOf, ...(reliefOf && { reliefOf }) });

test('parts lie apart by the gutter, use what is said, and a tenth more of the area than boxes of a published packer', () => {
  const parts = Array.from({ length: 14 }, (_, k) => leaf(k + 1));
  for (const turning of ['any angle', 'quarter turns', 'not at all'] as const) {
    const recipe = atlasOf(parts, { gutter: 8, turning });
    const { placed, used, byBoxes } = packed(recipe);
    expect(used).toBeGreaterThan(1.1 * byBoxes); // maxrects-packer 2.7.3
    const { picture, maps } = grown({ ...recipe, params: { ...recipe.params, placed } });
    const alpha = picture.data.filter((_, i) => i % 4 === 3);
    expect(alpha.reduce((sum, v) => sum + v, 0) / 255 / 512 / 512).toBeCloseTo(used, 2);
    expect(nearest(alpha, maps.get('tintId')!.data, 12)).toBeGreaterThanOrEqual(8);
    expect(placed.every((p) => turning === 'any angle' || p.turn % (turning === 'not at all' ? 360 : 90) === 0)).toBe(true); // prettier-ignore
    expect(packed(recipe).placed).toEqual(placed);
  }
});

/** Least distance between texels of different parts, up to `most`. */
function nearest(alpha: ArrayLike<number>, ids: ArrayLike<number>, most: number): number {
  let least = most;
  for (let i = 0; i < alpha.length; i++) {
    if (alpha[i] < 8) continue;
    for (let dy = 0; dy <= most; dy++) {
      for (let dx = -most; dx <= most; dx++) {
        const [x, y] = [(i % 512) + dx, Math.floor(i / 512) + dy];
        if (x < 0 || x >= 512 || y >= 512) continue;
        const k = 512 * y + x;
        // between them lie so many texels, counted from border to border
        if (alpha[k] >= 8 && ids[k] !== ids[i]) least = Math.min(least, Math.hypot(Math.max(0, Math.abs(dx) - 1), Math.max(0, dy - 1))); // prettier-ignore
      }
    }
  }
  return least;
}

test('what is kept stays, new parts lie beside it or are refused; groups lie together; weights and metres count', () => {
  const few = [1, 2, 3, 4].map((k) => ({ ...leaf(k), copies: 2 }));
  const first = packed(atlasOf(few));
  const more = atlasOf([...few, { ...leaf(9), weight: 0.2 }], { placed: first.placed });
  const kept = packed(more, true);
  expect(kept.placed.slice(0, 8)).toEqual(first.placed);
  expect(kept.placed).toHaveLength(9);
  expect(kept.placed[8].tall / first.placed[0].tall).toBeCloseTo((0.2 * more.parts![4].height) / few[0].height, 3);
  expect(() => packed(atlasOf([...few, { ...leaf(9), weight: 3 }], { placed: first.placed }), true)).toThrow('no room');
  const metres = packed(atlasOf([{ ...few[0], copies: 1, metres: 0.1 }, { ...few[0], sha256: few[1].sha256, copies: 1, metres: 0.2 }])); // prettier-ignore
  expect(metres.placed[1].tall / metres.placed[0].tall).toBeCloseTo(2, 3);

  const grouped = packed(atlasOf(few.map((p, k) => ({ ...p, copies: 6, group: k < 2 ? 'near' : 'far' }))));
  const rowsOf = (from: number) => grouped.placed.slice(from, from + 12).map((p) => p.y);
  expect(Math.max(Math.min(...rowsOf(0)), Math.min(...rowsOf(12)))).toBeGreaterThan(0.3);
  expect(() => packed(atlasOf(few.map((p) => ({ ...p, copies: 100 }))))).toThrow('400 copies');
  expect(() => packed(atlasOf([{ ...few[0], sha256: 'f'.repeat(64) }]))).toThrow('missing');
});

test('parts that fill their boxes are packed as boxes: no less is used than by them', () => {
  const full = (width: number, height: number) => partFrom(makePicture(width, height, new Uint8Array(4 * width * height).fill(200))); // prettier-ignore
  const parts = [full(90, 60), full(40, 80), full(50, 50), full(20, 90)];
  const { placed, used, byBoxes } = packed(atlasOf(parts, { gutter: 4 }));
  expect(used).toBeGreaterThanOrEqual(byBoxes);
  const { picture, maps } = grown({ ...atlasOf(parts, { placed }) });
  const alpha = picture.data.filter((_, i) => i % 4 === 3);
  expect(nearest(alpha, maps.get('tintId')!.data, 6)).toBeGreaterThanOrEqual(4);
});

test('at its own size and upright a part is the same bytes; turned by a quarter its normals are turned with it', () => {
  const data = Uint8Array.from({ length: 4 * 32 * 48 }, (_, i) => (i % 4 === 3 ? 255 : (i * 37) % 251));
  const part = partFrom(makePicture(32, 48, data), { relief: 'relief', maps: ['normal', 'height', 'translucency'] });
  const code = (v: number) => Math.round((v / 2 + 0.5) * 65535);
  const relief = { width: 32, height: 48, channels: 4 as const, data: new Uint16Array(4 * 32 * 48) };
  // leaning to the right by 30°, a quarter up
  for (let i = 0; i < relief.data.length; i += 4) relief.data.set([code(0.5), code(0), 16384, 49152], i);
  const at = (turn: number) => {
    const placed = [{ part: part.sha256, copy: 0, x: 0.5, y: 0.5, turn, tall: 48 / 128 }];
    return grown(atlasOf([part], { placed }, 128), () => relief);
  };
  const { picture } = at(0);
  for (let y = 0; y < 48; y++) {
    const from = 4 * ((40 + y) * 128 + 48);
    expect(picture.data.subarray(from, from + 128)).toEqual(data.subarray(128 * y, 128 * y + 128));
  }
  const { maps } = at(90);
  const middle = 64 * 128 + 64;
  const [x, y, z] = [0, 1, 2].map((k) => (maps.get('normal')!.data[3 * middle + k] / 65535) * 2 - 1);
  expect(x).toBeCloseTo(0, 3);
  expect(y).toBeCloseTo(-0.5, 3); // its right is down now
  expect(z).toBeCloseTo(Math.sqrt(0.75), 3);
  expect(maps.get('height')!.data[middle] / 65535).toBeCloseTo(0.25, 3);
  expect(maps.get('translucency')!.data[middle] / 255).toBeCloseTo(0.75, 2);
  expect(() => grown(atlasOf([part], {}, 64))).toThrow('missing'); // its maps are not there
});

test('every version of a recipe lays parts as the same bytes for good', () => {
  // computed once, when the version came
  const data = Uint8Array.from({ length: 4 * 60 * 200 }, (_, i) => ((i * 2654435761) >>> 13) & 255);
  const part = partFrom(makePicture(60, 200, data));
  const known = (['tuft', 'spray', 'atlas'] as const).map((kind) => {
    const placed = [{ part: part.sha256, copy: 0, x: 0.4, y: 0.5, turn: 33, tall: 0.7 }];
    const own =
      kind === 'atlas' ? { placed } : kind === 'tuft' ? { envelope: [0.35, 0.6, 0.85, 0.95, 0.85, 0.6, 0.35] } : {};
    const { picture, maps } = grown({ ...makeRecipe(kind, { width: 256, height: 256, seed: 3, ...own }), version: 1, parts: [part] }); // prettier-ignore
    return [picture, ...maps.values()].map((raster) => fingerprint(raster)).join(' ');
  });
  expect(known).toEqual([
    '63a5ca9b5a91bfe9 a2ac527d9234362c e2931d791fd8d027 9cbf30e788be0dda 6166096ed89b2240 2f8cfb187873d337',
    '4196fb809947aff4 7239f64462840cb7 c43c51e107c2bc7a 05353a94c4af3f68 791ce8b7c454619e 3e2394d4e5c108d5',
    '68b64246dff172d7 89989ad52c193395 615dfa512d060685 95a9eec871d5a4d4 e8b4c51ac45c6a83 acc6070d1dfc7d54',
  ]);
});

test('a part that keeps nothing has no region, and the check of the file says so', async () => {
  const parts = [leaf(3), leaf(4)];
  const recipe = atlasOf(parts);
  const atlas = { ...recipe, params: { ...recipe.params, placed: packed(recipe).placed } } as Recipe;
  const blank = { ...pictureOf(parts[1].sha256)! };
  const emptied = (sha256: string) =>
    sha256 === parts[1].sha256 ? { ...blank, data: new Uint8Array(blank.data.length) } : pictureOf(sha256);
  const piece = {
    ...PIECE_DEFAULTS,
    name: 'Leaves',
    run: [],
    sources: [{ id: 'a', sha256: '', fileName: '', recipe: atlas }],
  };
  const { picture } = grown(atlas);
  const state = { colour: picture, mask: makeMask(512, 512, new Uint8Array(512 * 512)), maps: new Map() };
  const readRegions = async (partOf: PackTools['partOf']) => {
    const tools: PackTools = {
      ...pictureTools,
      glb: glbTools,
      ...(partOf && { partOf }),
    };
    const files = (await packHandOff(piece, state, tools)).filter((f) => f.plan.holds === 'regions');
    return { files, checks: await readBack(files, piece, tools) };
  };
  const { files, checks } = await readRegions(emptied);
  expect(files.map((f) => f.name)).toEqual(['Leaves_regions.json']);
  expect(Buffer.from(files[0].bytes).toString()).not.toContain('null');
  expect(checks).toMatchObject([{ ok: false, found: '1 regions; 1 of 2 parts keep nothing' }]);
  expect((await readRegions(pictureOf)).checks).toMatchObject([{ ok: true, found: '2 regions' }]);
});

test('regions say where parts are: outlines of few corners that hold all of them, roots and tips', () => {
  const parts = [leaf(3), { ...leaf(4), copies: 2 }];
  const recipe = atlasOf(parts);
  const atlas = { ...recipe, params: { ...recipe.params, placed: packed(recipe).placed } };
  const regions = atlasRegions(atlas, pictureOf);
  expect(regions.map((r) => r.name)).toEqual([parts[0].name, `${parts[1].name} 1`, `${parts[1].name} 2`]);
  const { picture, maps } = grown(atlas);
  const ids = maps.get('tintId')!.data;
  regions.forEach(({ outline, uv, root, tip }, k) => {
    expect(outline.length).toBeLessThanOrEqual(10);
    expect(Math.hypot(root[0] - tip[0], root[1] - tip[1])).toBeCloseTo(atlas.params.placed[k].tall, 5);
    for (let i = 0; i < ids.length; i++) {
      if (picture.data[4 * i + 3] < 128 || ids[i] !== k + 1) continue;
      const [u, v] = [((i % 512) + 0.5) / 512, (Math.floor(i / 512) + 0.5) / 512];
      const sides = outline.map(([x, y], n) => {
        const [nextX, nextY] = outline[(n + 1) % outline.length];
        return (nextX - x) * (v - y) - (nextY - y) * (u - x);
      });
      if (!(sides.every((s) => s <= 1e-4) || sides.every((s) => s >= -1e-4))) throw new Error(`${u}, ${v} of ${k}`);
      if (u < uv.left || u > uv.right || v < uv.top || v > uv.bottom) throw new Error(`${u}, ${v} not in its box`);
    }
  });
  const square = fewerCorners([[0, 1], [0, 3], [1, 4], [3, 4], [4, 3], [4, 1], [3, 0], [1, 0]], 4); // prettier-ignore
  expect(square.map((c) => c.join()).sort()).toEqual(['0,0', '0,4', '4,0', '4,4']);
  expect([1, 2, 4, 8, 16, 31].map(partedTo)).toEqual([0, 0, 1, 2, 3, 3]);
});

test('an atlas of any shape is packed within its cost, and a stick as long as a card finds room', () => {
  const parts = [leaf(1), leaf(2)];
  const started = performance.now();
  const narrow = (gutter: number) => atlasOf(parts, { gutter }, 512) as Recipe;
  expect(() => packed({ ...narrow(2), width: 1, height: 8192 } as Atlas)).toThrow(/no room/);
  expect(packed({ ...narrow(0), width: 1, height: 8192 } as Atlas).placed).toHaveLength(2);
  expect(performance.now() - started).toBeLessThan(10_000); // minutes, when cells were as fine on every shape
  const stick = partFrom(makePicture(1, 4096, new Uint8Array(4 * 4096).fill(255)));
  expect(packed(atlasOf([stick, leaf(3)])).placed).toHaveLength(2);
});
