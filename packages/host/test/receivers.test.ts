import { describe, expect, test } from '@jest/globals';
import { pictureTools } from '../src/picture-tools.ts';
import {
  benchLook,
  bytesOnCard,
  finished,
  makeMask,
  packHandOff,
  PIECE_DEFAULTS,
  PROFILES,
  readPng,
  receiveHandOff,
  savingsOf,
  writePng,
  type HandOffFile,
  TARGET_AT_FIRST,
  type MapName,
  type PackedFile,
  type PackTools,
  type PieceDoc,
  type Raster,
  type RunState,
  type Samples,
} from '@lithe-sieve/core/testing';
import { glbTools } from '../src/glb/tools.ts';
import { deflateInStrips, nodePlatform } from '../src/node-platform.ts';
import { decodeReceived } from '../src/receive.ts';

/** A leaf with a soft edge, a hole and a stalk, away from the middle: nothing of it is the same turned over. */
const [W, H] = [128, 64];
const alpha = Uint8Array.from({ length: W * H }, (_, i) => {
  const [x, y] = [(i % W) - 44, Math.floor(i / W) - 30];
  const leaf = 26 - Math.hypot(x * 0.8, y);
  const hole = Math.hypot(x - 8, y + 4) - 6;
  return Math.max(0, Math.min(255, 128 + 24 * Math.min(leaf, hole)));
});
const colour = {
  width: W,
  height: H,
  channels: 4 as const,
  data: Uint8Array.from({ length: 4 * W * H }, (_, i) => (i % 4 === 3 ? 255 : [70, 120, 50][i % 4] + (i % 31))),
};
const normal: Raster<Samples> = {
  width: W,
  height: H,
  channels: 3,
  data: Uint16Array.from({ length: 3 * W * H }, (_, i) => [32768, 32768 + 9000 * Math.sin(i / 90), 60000][i % 3]),
};
const grey = (f: (i: number) => number) =>
  makeMask(
    W,
    H,
    Uint8Array.from({ length: W * H }, (_, i) => f(i)),
  );
const maps = new Map<MapName, Raster<Samples>>([
  ['normal', normal],
  ['roughness', grey((i) => 90 + (i % 97))],
  ['height', grey((i) => i % 251)],
]);
const state = { colour, mask: makeMask(W, H, alpha), maps } as unknown as RunState;
const tools: PackTools = {
  ...pictureTools,
  glb: glbTools,
};
const docOf = (handOff: Partial<PieceDoc['handOff']>, more: Partial<PieceDoc> = {}): PieceDoc => ({
  ...structuredClone(PIECE_DEFAULTS),
  name: 'Aster leaf',
  sources: [],
  run: [],
  ...more,
  handOff: { ...PIECE_DEFAULTS.handOff, ...handOff },
});

async function received(
  doc: PieceDoc,
  spoil: (files: HandOffFile[]) => Promise<HandOffFile[]> | HandOffFile[] = (f) => f,
  own = alpha,
) {
  const state = finished(doc, { colour, mask: makeMask(W, H, own), maps, steps: [] } as never);
  const files = await spoil(await packHandOff(doc, state, tools));
  return receiveHandOff(doc, files, benchLook(doc, state, undefined), { decode: decodeReceived });
}
const idsOf = (verdicts: Awaited<ReturnType<typeof received>>, is: (v: (typeof verdicts)[number]) => boolean) =>
  verdicts.filter(is).map((v) => v.id);
const disagreeing = (verdicts: Awaited<ReturnType<typeof received>>) => idsOf(verdicts, (v) => v.meant && !v.agrees);

/** The picture of one file, changed and written again. */
const redrawn =
  (slot: string, change: (raster: Raster<Samples>) => Raster<Samples>) =>
  (files: HandOffFile[]): Promise<HandOffFile[]> =>
    Promise.all(
      files.map(async (file) => {
        if (file.plan.slot !== slot) return file;
        const { raster } = await readPng(file.bytes, nodePlatform);
        return { ...file, bytes: await writePng(change(raster), deflateInStrips) };
      }),
    );
/** The text of one file, changed. */
const reworded =
  (name: RegExp, found: string | RegExp, by: string) =>
  (files: HandOffFile[]): HandOffFile[] =>
    files.map((f) => {
      if (!name.test(f.name)) return f;
      const text = Buffer.from(f.bytes).toString('latin1');
      expect(text).toMatch(found);
      return { ...f, bytes: Buffer.from(text.replace(found, by), 'latin1') };
    });
const inverted = (from: number) => (r: Raster<Samples>) => ({
  ...r,
  data: r.data.map((v, i) => (i % r.channels >= from ? 255 - v : v)),
});
const withoutAlpha = (r: Raster<Samples>): Raster<Samples> => ({
  ...r,
  channels: 3,
  data: r.data.filter((_, i) => i % 4 < 3),
});

function greenTurned(r: Raster<Samples>): Raster<Samples> {
  return { ...r, data: r.data.map((v, i) => (i % 3 === 1 ? 65535 - v : v)) };
}

const of = (map: MapName, inverted = false) => ({ map, channel: 'red' as const, inverted });
const packedFile = (name: string, as: 'grey' | 'RGB' | 'RGBA', fills: ReturnType<typeof of>[]): PackedFile => ({
  ...{ name, as, fills },
  bits: 8,
  halvings: 0,
});
const PLAIN = packedFile('base', 'RGB', [of('colour'), of('colour'), of('colour')]);

describe('simulated targets', () => {
  test.each(PROFILES.map((p) => p.id))('those of the profile %s agree with the Bench', async (profile) => {
    const verdicts = await received(docOf({ profile }));
    expect(idsOf(verdicts, (v) => v.meant).length).toBeGreaterThan(0);
    expect(verdicts.filter((v) => v.meant && !v.agrees).map((v) => [v.id, v.words])).toEqual([]);
    const exact = verdicts.find((v) => v.meant)!;
    if (!profile.startsWith('distance')) expect([exact.wrongSide, exact.levels[0].side]).toEqual([0, W]);
    expect(exact.picture!.data.some((v, i) => i % 4 === 3 && v === 0)).toBe(true);
  });

  test.each([
    ['alpha of the colour turned over', 'rgba-png', redrawn('base', inverted(3)), ['alpha-of-colour', 'levels-box']],
    ['alpha dropped', 'rgba-png', redrawn('base', withoutAlpha), ['alpha-of-colour', 'levels-box']],
    ['a mask turned over', 'rgb-and-mask', redrawn('mask', inverted(0)), ['mask-picture', 'levels-box']],
    ['the mask left out', 'rgb-and-mask', (f: HandOffFile[]) => f.slice(0, 1), ['mask-picture', 'levels-box']],
    ['normals turned over', 'packed-maps', redrawn('normal', greenTurned), ['green-up']],
    [
      'another normal map in the place of the mask',
      'rgb-and-mask',
      redrawn('mask', () => grey((i) => i % 256)),
      ['mask-picture', 'levels-box'],
    ],
    ['a distance field turned over', 'distance-2', redrawn('mask', inverted(0)), ['distances']],
    [
      'a glTF without its mode',
      'gltf',
      reworded(/gltf$/, '"alphaMode"', '"alphaMood"'),
      ['strict-gltf', 'ignores-alpha'],
    ],
    ['a glTF without its picture', 'gltf', (f: HandOffFile[]) => f.filter((g) => g.plan.slot !== 'base'), ['strict-gltf', 'ignores-alpha']], // prettier-ignore
    [
      'a USD whose threshold is left out',
      'usd',
      reworded(/usda$/, /float inputs:opacityThreshold = .*/, ''),
      ['strict-usd'],
    ],
    [
      'a USD whose opacity comes from no alpha',
      'usd',
      reworded(/usda$/, 'base.outputs:a>', 'base.outputs:r>'),
      ['strict-usd'],
    ],
    ['alpha dropped beside a USD', 'usd', redrawn('base', withoutAlpha), ['strict-usd']],
    ['a gltf_pbr that is opaque', 'materialx', reworded(/card.mtlx$/, '"alpha_mode" type="integer" value="1"', '"alpha_mode" type="integer" value="0"'), ['materialx-gltf']], // prettier-ignore
    ['a comparison the other way round', 'materialx', reworded(/standard.mtlx$/, '"in1" type="float" value="1"', '"in1" type="float" value="0"'), ['materialx-standard']], // prettier-ignore
    ['an MTL without map_d', 'obj', reworded(/mtl$/, /map_d.*/, ''), ['obj-map-d']],
    ['a mask turned over beside an OBJ', 'obj', redrawn('mask', inverted(0)), ['obj-map-d']],
    [
      'a description of another cutoff',
      'described',
      reworded(/json$/, '"cutoff": 0.5', '"cutoff": 0.9'),
      ['description'],
    ],
  ] as const)('%s: exactly the right ones differ', async (_, profile, spoil, differ) => {
    expect(disagreeing(await received(docOf({ profile }), spoil))).toEqual(differ);
  });

  test('a GLB whose material says nothing of alpha shows all of the card; one cut short is refused in words', async () => {
    const doc = docOf({ profile: 'glb' });
    const renamed = ({ bytes }: HandOffFile) =>
      Buffer.from(Buffer.from(bytes).toString('latin1').replace('"alphaMode"', '"alphaMood"'), 'latin1');
    const [strict] = await received(doc, (files) => files.map((f) => ({ ...f, bytes: renamed(f) })));
    expect([strict.id, strict.agrees, strict.words]).toEqual([
      'strict-gltf',
      false,
      expect.stringContaining('whole card'),
    ]);
    const [cut] = await received(doc, (files) => files.map((f) => ({ ...f, bytes: f.bytes.subarray(0, -8) })));
    expect([cut.agrees, cut.words]).toEqual([false, expect.stringContaining('refuses')]);
  });

  test('targets that the profile is not for say what would go wrong there', async () => {
    const verdicts = await received(docOf({ profile: 'all-maps' }));
    const of = (id: string) => verdicts.find((v) => v.id === id)!;
    expect([of('green-up').agrees, of('green-down').agrees, of('green-down').fix]).toEqual([
      true,
      false,
      { green: 'DirectX' },
    ]);
    expect(of('ignores-alpha')).toMatchObject({
      meant: false,
      agrees: false,
      words: expect.stringContaining('whole card'),
    });
    expect(of('mode-from-name').agrees).toBe(false);
    const soft = await received(docOf({ profile: 'rgb-and-mask' }));
    const asColour = soft.find((v) => v.id === 'mask-as-colour')!;
    expect([asColour.agrees, asColour.wrongSide > 100]).toEqual([false, true]);
  });

  test('a target of a packed file looks at the channel that it was said, whatever the packing holds there', async () => {
    const pack = (last: ReturnType<typeof of>) => ({
      profile: 'own-packing' as const,
      packing: [PLAIN, packedFile('pack', 'RGBA', [of('height'), of('roughness'), of('height'), last])],
      target: { ...TARGET_AT_FIRST, opacity: 'a channel' as const, channel: { file: 'pack', channel: 3 } },
    });
    expect(disagreeing(await received(docOf(pack(of('mask')))))).toEqual([]);
    const turned = await received(docOf(pack(of('mask', true))));
    expect(turned[0]).toMatchObject({ id: 'packed-channel', agrees: false, words: expect.stringContaining('swapped') });
    expect(disagreeing(await received(docOf(pack(of('height')))))).toEqual(['packed-channel', 'levels-box']);
  });

  test('a few hairs that are lost, and a blend that is made linear, are no small thing', async () => {
    const hairs = Uint8Array.from({ length: W * H }, (_, i) => (i % W === 20 ? 255 : 0)); // under a hundredth of it
    const lost = redrawn('base', (r) => ({ ...r, data: r.data.map((v, i) => (i % 4 === 3 ? 0 : v)) }));
    const [first] = await received(docOf({ profile: 'rgba-png' }), lost, hairs);
    expect([first.agrees, first.words]).toEqual([false, expect.stringContaining('Nothing shows')]);
    const blend = docOf({ profile: 'rgb-and-mask' }, { material: { ...PIECE_DEFAULTS.material, mode: 'blend' } });
    const verdicts = await received(blend);
    expect(disagreeing(verdicts)).toEqual([]);
    const asColour = verdicts.find((v) => v.id === 'mask-as-colour')!;
    expect([asColour.agrees, asColour.levels[0].shown < asColour.levels[0].bench]).toEqual([false, true]);
  });

  test('levels that we made and a PNG does not carry: seen near by as on the Bench, and not from afar', async () => {
    const dots = Uint8Array.from({ length: W * H }, (_, i) => (((i % W) >> 1) % 3 === 0 ? 255 : 0));
    const levels = { ...PIECE_DEFAULTS.levels, madeBy: 'file' as const, keep: 'scale' as const };
    const [first] = await received(docOf({ profile: 'rgba-png' }, { levels }), undefined, dots);
    expect(first).toMatchObject({ agrees: false, wrongSide: 0, remedy: expect.stringContaining('levels in a DDS') });
    expect(disagreeing(await received(docOf({ profile: 'dds-rgba' }, { levels }), undefined, dots))).toEqual([]);
  });

  test('a TGA of 24 bits has no alpha for a target that takes that of 32 alone, nor for any other', async () => {
    const tga = (as: 'RGB' | 'RGBA') =>
      docOf({
        profile: 'own-packing',
        packing: [{ ...packedFile('base', as, [of('colour'), of('colour'), of('colour'), of('mask')].slice(0, as.length)), format: 'tga' }], // prettier-ignore
      });
    expect(disagreeing(await received(tga('RGBA')))).toEqual([]);
    expect(disagreeing(await received(tga('RGB')))).toEqual(['alpha-of-colour', 'alpha-of-32-bits', 'levels-box']);
    const [, bits] = await received(tga('RGBA'), ([f]) => [{ ...f, bytes: f.bytes.map((v, i) => (i === 17 ? v & 0xf0 : v)) }]); // prettier-ignore
    expect([bits.id, bits.agrees, bits.words]).toEqual([
      'alpha-of-32-bits',
      false,
      expect.stringContaining('0 of them alpha'),
    ]);
  });

  test('transparency, powers of two, and names that say the mode: each rule by itself', async () => {
    const transparent = (inverted: boolean) =>
      docOf({
        profile: 'own-packing',
        packing: [PLAIN, packedFile('mask', 'grey', [of('mask', inverted)])],
        target: { ...TARGET_AT_FIRST, opacity: 'transparency picture' },
      });
    expect(disagreeing(await received(transparent(true)))).toEqual([]);
    expect(disagreeing(await received(transparent(false)))).toEqual(['transparency-picture', 'levels-box']);
    const target = { ...TARGET_AT_FIRST, powerOfTwo: true };
    expect(disagreeing(await received(docOf({ profile: 'own-packing', packing: [packedFile('base', 'RGBA', [of('colour'), of('colour'), of('colour'), of('mask')])], target })))).toEqual([]); // prettier-ignore
    const named = await received(docOf({ profile: 'rgba-png', pattern: '{piece}_clipped_{map}' }));
    expect(named.find((v) => v.id === 'mode-from-name')!.agrees).toBe(true);
  });

  test.each([
    ['dds-bc1', ['file-levels', 'one-bit']],
    ['dds-bc7', ['file-levels']],
  ] as const)('levels of %s that were spoilt: only those that take them differ', async (profile, differ) => {
    const other = docOf({ profile });
    const level1 = async (files: HandOffFile[]) => {
      const mask = makeMask(
        W,
        H,
        alpha.map((v, i) => (i % W < 64 ? v : 255)),
      );
      const [plain] = await packHandOff(other, { ...state, mask }, tools);
      const bytes = files[0].bytes.slice();
      bytes.set(plain.bytes.subarray(plain.bytes.length >> 1), plain.bytes.length >> 1); // the end of level 0 and all others
      return [{ ...files[0], bytes }];
    };
    expect(disagreeing(await received(other, level1))).toEqual(differ);
  });

  test('another way to store it saves bytes on the card, as many as it says', () => {
    const [w, h] = [4096, 2048];
    const at = (handOff: Partial<PieceDoc['handOff']>) => bytesOnCard(docOf(handOff), { width: w, height: h }, state);
    expect(at({ profile: 'rgba-png' })).toBeCloseTo((4 * w * h * 4) / 3, 0);
    for (const profile of ['rgba-png', 'own-packing'] as const) {
      const doc = docOf({ profile });
      const savings = savingsOf(doc, { width: w, height: h }, state);
      expect(savings.length).toBeGreaterThan(1);
      for (const { bytes, handOff } of savings) {
        const after = bytesOnCard({ ...doc, handOff: { ...doc.handOff, ...handOff } }, { width: w, height: h }, state);
        expect(at({ profile }) - after).toBe(bytes);
      }
    }
    // BC1: half a byte a texel (Khronos Data Format Specification 1.3, S3TC)
    expect(at({ profile: 'dds-bc1' }) / (w * h)).toBeCloseTo(0.5 * (4 / 3), 2);
  });
});
