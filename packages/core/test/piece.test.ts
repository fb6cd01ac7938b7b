import { describe, expect, test } from '@jest/globals';
import {
  describeSource,
  groupByName,
  guessRole,
  readName,
  findSnags,
  makeStep,
  PIECE_DEFAULTS,
  ROLE_ENDINGS,
  startingRun,
  summariseMask,
  TARGET_AT_FIRST,
  type Mask,
  type PieceDoc,
  type Raster,
  type SourceFacts,
  type StepEntry,
  type ProfileId,
  type Target,
} from '../src/index.ts';
import { drawMask, noisePicture } from './helpers/pictures.ts';

const decoded = (raster: Raster) => ({ format: 'png' as const, raster, bitDepth: 8, palette: false, notes: [] });
const factsOf = (raster: Raster) => describeSource(decoded(raster));
let serial = 0;
const makeId = () => `id${serial++}`;

/** A dark disc on a pale backdrop that gets darker to the right. */
function scan(side: number): Raster {
  const data = new Uint8Array(side * side * 3);
  for (let i = 0; i < side * side; i++) {
    const [x, y] = [(i % side) / side - 0.5, Math.floor(i / side) / side - 0.5];
    const light = 1 - 0.1 * (x + 0.5);
    data.set(x * x + y * y < 0.09 ? [40, 90, 30] : [230 * light, 226 * light, 214 * light], 3 * i);
  }
  return { width: side, height: side, channels: 3, data };
}
function rgba(alphas: number[]): Raster {
  const data = new Uint8Array(alphas.length * 4).fill(90);
  alphas.forEach((a, i) => (data[4 * i + 3] = a));
  return { width: alphas.length, height: 1, channels: 4, data };
}

describe('what a source holds', () => {
  test('alpha none, present, all opaque, all transparent', () => {
    expect(factsOf(scan(8)).alpha).toBe('none');
    expect(factsOf(rgba([0, 9, 255])).alpha).toBe('present');
    expect(factsOf(rgba([255, 255])).alpha).toBe('opaque');
    expect(factsOf(rgba([0, 0])).alpha).toBe('transparent');
  });

  test('a plain backdrop, a mask picture, and neither', () => {
    const leaf = factsOf(scan(64));
    expect(leaf.border.share).toBe(1);
    expect(leaf.border.spread).toBeGreaterThan(0.005);
    const noise = factsOf(noisePicture(1, 64, 64));
    expect([noise.border.share < 0.5, noise.grey]).toEqual([true, false]);
    const mask = factsOf(drawMask(['.##.', '.##.']));
    expect([mask.grey, mask.blackOrWhite]).toEqual([true, 1]);
  });
});

describe('the starting run', () => {
  const start = (...rasters: [string, Raster][]) =>
    startingRun(
      rasters.map(([fileName, raster], i) => ({ ref: { id: `s${i}`, sha256: '', fileName }, facts: factsOf(raster) })),
      makeId,
    ).map(({ kind, params }) => ({ kind, params }));

  test('fits what the sources hold', () => {
    expect(start(['grass.png', rgba([0, 255])])).toEqual([
      { kind: 'from-channel', params: { sourceId: '', channel: 'alpha', fit: 'refuse' } },
    ]);
    expect(start(['leaf.png', scan(64)]).map((s) => s.kind)).toEqual(['from-colour', 'bleed']);
    expect(start(['noise.png', noisePicture(1, 64, 64)].slice(0, 2) as [string, Raster]).length).toBe(1); // it has alpha
    expect(start(['reed.jpg', { ...scan(4), data: noisePicture(2, 4, 3).data }])).toEqual([]);
    const mask = drawMask(['.##.', '.##.', '.##.', '....']);
    expect(start(['reed.png', scan(4)], ['reed_mask.png', mask])[0]).toEqual({
      kind: 'from-channel',
      params: { sourceId: 's1', channel: 'luminance', fit: 'refuse' },
    });
  });

  test('files that belong together by name are paired, others not', () => {
    expect(readName('reed_mask.png')).toEqual({ stem: 'reed', role: 'mask' });
    expect(readName('Reed-Opacity.TGA')).toEqual({ stem: 'reed', role: 'mask' });
    expect([readName('a.b.png').role, readName('reed_lit3.jpg').role, readName('x_Nrm.png').role]).toEqual([
      null,
      'lit',
      'normal',
    ]);
    const names = (files: string[]) =>
      groupByName(files.map((fileName) => ({ fileName }))).map((g) => g.map((f) => f.file.fileName).join('+'));
    expect(names(['reed_mask.png', 'leaf.png', 'reed.png'])).toEqual(['reed.png+reed_mask.png', 'leaf.png']);
    expect(names(['mane_colour.png', 'mane_alpha.png', 'other_mask.png'])).toEqual([
      'mane_colour.png+mane_alpha.png',
      'other_mask.png',
    ]);
    expect(names(['reed_dark.png', 'reed_light.png', 'reed_height.png'])).toEqual([
      'reed_dark.png+reed_light.png+reed_height.png',
    ]);
    expect(names(['a_lit1.png', 'a_lit2.png', 'b_lit1.png', 'a_lit3.png'])).toEqual([
      'a_lit1.png+a_lit2.png+a_lit3.png',
      'b_lit1.png',
    ]);
    expect(
      groupByName([{ fileName: 'x.png' }, { fileName: 'x_zz.png' }], { ...ROLE_ENDINGS, dirt: ['zz'] })[0][1].role,
    ).toBe('dirt');
  });

  test('files that hold maps become steps of the maps, each on its own', () => {
    const size = scan(16);
    const run = start(
      ['reed.png', rgba([0, 255])],
      ['reed_normaldx.png', size],
      ['reed_rough.png', size],
      ['reed_height.png', size],
    );
    expect(run.map((s) => s.kind)).toEqual(['from-channel', 'normal-from-picture', 'roughness', 'height-from-picture']);
    expect(run[1].params).toMatchObject({ sourceId: 's1', green: 'DirectX', fit: 'scale' });
    expect(run[2].params).toMatchObject({ sourceId: 's2', from: 'channel', inverted: false, low: 0, high: 1 });
  });
});

describe('snags and their remedies', () => {
  const leafFacts = factsOf(scan(64));
  const doc = (values: Partial<PieceDoc>): PieceDoc => ({
    ...structuredClone(PIECE_DEFAULTS),
    name: 'Leaf',
    sources: [{ id: 'c', sha256: 'c', fileName: 'leaf.png' }],
    run: [makeStep('p', 'from-colour', { drop: [[230, 226, 214]] })],
    ...values,
  });
  const good = drawMask([
    '........',
    '..####..',
    '..####..',
    '..####..',
    '..####..',
    '..####..',
    '..####..',
    '........',
  ]);
  const find = (piece: PieceDoc, mask: Mask = good, facts: [string, SourceFacts][] = [['c', leafFacts]]) => {
    const { levels, border, middle } = summariseMask([mask]);
    return findSnags({ doc: piece, facts: new Map(facts), counts: levels[0].counts, border, middle, levels: [] });
  };
  const kinds = (run: StepEntry[]) => run.map((s) => s.kind).join();

  test('what its target cannot do: each has a remedy that mends it', () => {
    const snagsOf = (piece: PieceDoc) => {
      const { levels: own, border, middle } = summariseMask([good]);
      const { counts } = own[0];
      const facts = new Map([['c', leafFacts]]);
      const size = { width: 300, height: 200 };
      return findSnags({ doc: piece, facts, counts, border, middle, levels: [], size }).filter((s) =>
        s.id.startsWith('target'),
      );
    };
    const aimed = (target: Partial<Target>, more: Partial<PieceDoc> = {}) =>
      doc({ ...more, handOff: { ...PIECE_DEFAULTS.handOff, profile: 'own-packing', target: { ...TARGET_AT_FIRST, ...target } } }); // prettier-ignore
    expect(snagsOf(aimed({}))).toEqual([]);
    const blended = { material: { ...PIECE_DEFAULTS.material, mode: 'blend' as const } };
    for (const piece of [aimed({ clips: false }), aimed({ blends: false }, blended), aimed({ twoSided: false })]) {
      const [snag] = snagsOf(piece);
      expect(snagsOf(snag.remedy!.apply(piece, makeId))).toEqual([]);
    }
    for (const [target, kind, params] of [
      [{ powerOfTwo: true }, 'pad', { sides: 'power of two', left: 0 }],
      [{ largest: 128 }, 'resize', { by: 'longer side', side: 128 }],
    ] as const) {
      const piece = aimed(target);
      const [{ id, remedy }] = snagsOf(piece);
      const step = remedy!.apply(piece, makeId).run.at(-1)!;
      expect([id, step.kind, step.params]).toMatchObject(['target-size', kind, params]);
    }
    for (const target of [
      { opacity: 'mask picture' },
      { opacity: 'transparency picture' },
      { opacity: 'a channel', channel: { file: 'gone', channel: 0 } },
    ] as const) {
      const [{ id, text, remedy }] = snagsOf(aimed(target));
      expect([id, text]).toEqual(['target-opacity', expect.stringMatching(/gone|picture/)]);
      expect(snagsOf(remedy!.apply(aimed(target), makeId))).toEqual([]);
    }
    const through = (profile: ProfileId) =>
      doc({
        run: [makeStep('b', 'bleed'), makeStep('t', 'translucency'), makeStep('h', 'height-from-edge')],
        handOff: { ...PIECE_DEFAULTS.handOff, profile },
      });
    expect(snagsOf(through('glb'))).toEqual([]); // nobody sees a height
    for (const profile of ['usd', 'usdz', 'obj'] as const) {
      const [{ id, text, remedy }] = snagsOf(through(profile));
      expect([id, text]).toEqual(['target-left-out', expect.stringContaining('translucency')]);
      expect(snagsOf(remedy!.apply(through(profile), makeId))).toEqual([]);
    }
  });

  test('a clean piece has none', () => expect(find(doc({}))).toEqual([]));

  test('holes in the mask, but the mode is opaque', () => {
    const piece = doc({ material: { ...PIECE_DEFAULTS.material, mode: 'opaque' } });
    const [snag] = find(piece);
    expect(snag.id).toBe('opaque-mode');
    expect(snag.remedy!.apply(piece, makeId).material.mode).toBe('mask');
    expect(find(piece, drawMask(['##', '##']))).toEqual([]);
  });

  test('no alpha and nothing derives a mask: from the backdrop, else from luminance', () => {
    const bare = doc({ run: [makeStep('b', 'bleed')] });
    const [snag] = find(bare);
    expect(snag.text).toContain('no alpha');
    expect(kinds(snag.remedy!.apply(bare, makeId).run)).toBe('from-colour,bleed');
    const byHand = { ...bare, run: [...bare.run, makeStep('by-hand', 'strokes', { strokes: ['stroke-1'] })] };
    expect(find(byHand)).toEqual([]); // what is cut by hand is a mask
    const noise = factsOf({ ...scan(4), data: noisePicture(2, 4, 3).data });
    const [other] = find(bare, good, [['c', noise]]);
    expect(other.remedy!.apply(bare, makeId).run[0]).toMatchObject({
      kind: 'from-channel',
      params: { channel: 'luminance' },
    });
    const off = doc({ run: [{ ...makeStep('p', 'from-colour'), on: false }] });
    expect(find(off)[0].id).toBe('no-mask');
  });

  test('levels that do not fit what is done with them: no room in the files, or held and drawn hashed', () => {
    const own = doc({ levels: { ...PIECE_DEFAULTS.levels, madeBy: 'file' } });
    const [room] = find(own);
    expect(room.id).toBe('no-room-for-levels');
    expect(find(room.remedy!.apply(own, makeId))).toEqual([]);
    const levels = { ...PIECE_DEFAULTS.levels, hold: true };
    for (const by of ['hashed', 'ordered'] as const) {
      const held = doc({ levels, drawn: { by, samples: 4 } });
      const [snag] = find(held);
      expect(snag.id).toBe('held-not-hard');
      expect(find(snag.remedy!.apply(held, makeId))).toEqual([]);
    }
    expect(find(doc({ levels, drawn: { by: 'coverage', samples: 4 } }))).toEqual([]);
  });

  test('probably inverted: an invert is added, or a last one taken away', () => {
    const piece = doc({});
    const reversed = { ...good, data: good.data.map((v) => 255 - v) };
    const [snag] = find(piece, reversed);
    expect(snag.id).toBe('inverted');
    const mended = snag.remedy!.apply(piece, makeId);
    expect(kinds(mended.run)).toBe('from-colour,invert');
    expect(kinds(snag.remedy!.apply(mended, makeId).run)).toBe('from-colour');
    // right behind what makes the mask: a step that grows it goes on growing
    const grows = { ...piece, run: [...piece.run, makeStep('g', 'grow')] };
    expect(kinds(snag.remedy!.apply(grows, makeId).run)).toBe('from-colour,invert,grow');
  });

  test('all kept or all dropped at this cutoff: the cutoff goes between the two classes', () => {
    const faint = { ...good, data: good.data.map((v) => (v ? 90 : 10)) };
    const piece = doc({});
    const [snag] = find(piece, faint);
    expect(snag.id).toBe('all-dropped');
    const { cutoff } = snag.remedy!.apply(piece, makeId).material;
    expect(cutoff).toBeGreaterThan(10 / 255);
    expect(cutoff).toBeLessThanOrEqual(90 / 255);
    expect(find(doc({ material: { ...PIECE_DEFAULTS.material, cutoff: 0.01 } }), faint)[0].id).toBe('all-kept');
    expect(find(piece, drawMask(['....']))[0].remedy).toBeUndefined(); // one value only: nothing to choose
  });

  test('two sources differ in size: the mask is scaled', () => {
    const sources = [...doc({}).sources, { id: 'm', sha256: 'm', fileName: 'leaf_mask.png' }];
    const piece = doc({ sources, run: [makeStep('p', 'from-channel', { sourceId: 'm', channel: 'luminance' })] });
    const facts: [string, SourceFacts][] = [
      ['c', leafFacts],
      ['m', factsOf(good)],
    ];
    const [snag] = find(piece, good, facts);
    expect(snag.text).toBe('Sizes differ: leaf_mask.png is 8 × 8, the colour picture 64 × 64.');
    const mended = snag.remedy!.apply(piece, makeId);
    expect(mended.run[0]).toMatchObject({ params: { fit: 'scale' } });
    expect(find(mended, good, facts)).toEqual([]);
  });

  test('a source of another size that no step refuses is no snag: unused, a copied mask, heights that are scaled', () => {
    const sources = [...doc({}).sources, { id: 'm', sha256: 'm', fileName: 'note.png', role: 'reference' as const }];
    const facts: [string, SourceFacts][] = [
      ['c', leafFacts],
      ['m', factsOf(good)],
    ];
    const alpha = makeStep('p', 'from-channel', { channel: 'alpha' });
    const snags = (...others: StepEntry[]) =>
      find(doc({ sources, run: [alpha, ...others] }), good, facts).map((s) => s.id);
    expect(snags()).toEqual([]);
    expect(snags(makeStep('q', 'from-piece', { sourceId: 'm' }))).toEqual([]);
    expect(snags(makeStep('q', 'cut-below', { sourceId: 'm', fit: 'scale' }))).toEqual([]);
    expect(snags(makeStep('q', 'cut-below', { sourceId: 'm' }))).toEqual(['sizes-differ']);
    expect(snags({ ...makeStep('q', 'cut-below', { sourceId: 'm' }), on: false })).toEqual([]);
    const [pair] = find(doc({ sources, run: [makeStep('q', 'from-two-backdrops', { sourceId: 'm' })] }), good, facts);
    expect([pair.id, pair.remedy]).toEqual(['sizes-differ', undefined]); // nothing here can make them fit
  });
});

describe('remarks on a source', () => {
  const say = (texel: (x: number, y: number) => number[], side = 32) => {
    const data = new Uint8Array(4 * side * side);
    for (let i = 0; i < side * side; i++) data.set(texel(i % side, Math.floor(i / side)), 4 * i);
    return describeSource(decoded({ width: side, height: side, channels: 4, data })).notes.join(' ');
  };

  test('alpha that is luminance, colours that look premultiplied, a matte under the edge, odd sizes', () => {
    expect(say((x) => [8 * x, 8 * x, 8 * x, 8 * x])).toContain('a copy of its luminance');
    expect(say((x, y) => [4 * x, 2 * x, (x * y) % (8 * x + 1), 8 * x])).toContain('looks premultiplied');
    const onMatte = (matte: number) => (x: number) => (x < 16 ? [matte, matte, matte, 0] : [130, 120, 90, 255]);
    expect(say(onMatte(10))).toContain('A dark matte');
    expect(say(onMatte(250))).toContain('A light matte');
    expect(say(onMatte(120))).toBe('Of its alpha 50 % is zero, 50 % full, 0 % between.');
    expect(say(() => [1, 2, 3, 255], 24)).toBe('24 × 24 is not a power of two.');
  });
});

test('a further source is guessed by its name and by what it holds', () => {
  const factsOf = (texel: (i: number) => number[]) => {
    const data = new Uint8Array(4 * 1024);
    for (let i = 0; i < 1024; i++) data.set(texel(i), 4 * i);
    return describeSource(decoded({ width: 32, height: 32, channels: 4, data }));
  };
  const plain = factsOf(() => [30, 32, 34, 255]);
  const maskLike = factsOf((i) => (i % 2 ? [255, 255, 255, 255] : [0, 0, 0, 255]));
  const photo = factsOf((i) => [(i * 37) & 255, (i * 91) & 255, (i * 13) & 255, 255]);
  expect(guessRole('reed_height.tif', maskLike)).toBe('height');
  expect(guessRole('reed_mask.png', photo)).toBe('mask');
  expect(guessRole('anything.png', maskLike)).toBe('mask');
  expect(guessRole('reed on card, dark.jpg', plain)).toBe('other backdrop');
  expect(guessRole('reed_dark.jpg', photo)).toBe('reference');
});

test('alpha that is full but for a slip does not decide the starting run', () => {
  const scan = (below: number) => {
    const data = new Uint8Array(4 * 64 * 64).fill(255);
    for (let i = 0; i < below; i++) data[4 * i + 3] = 200;
    const facts = describeSource(decoded({ width: 64, height: 64, channels: 4, data }));
    return startingRun([{ ref: { id: 'source', sha256: 'x', fileName: 'horse.png' }, facts }], () => 'step')[0].kind;
  };
  expect([scan(4), scan(40)]).toEqual(['from-colour', 'from-channel']);
});
