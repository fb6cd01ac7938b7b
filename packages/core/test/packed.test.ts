import { describe, expect, test } from '@jest/globals';
import sharp from 'sharp';
import {
  assertPattern,
  mapMips,
  missingIn,
  PACKED_AS,
  packedRaster,
  packedWords,
  packHandOff,
  PIECE_DEFAULTS,
  readBack,
  readTga,
  writeTga,
  type ChannelFill,
  type MapName,
  type PackedFile,
  type PieceDoc,
  type Raster,
  type Samples,
} from '../src/testing.ts';
import { toEightBits } from '../src/raster/raster.ts';
import { decodeReceived, pictureTools } from '@lithe-sieve/host';
import { glbTools } from '@lithe-sieve/host/glb';
import { noiseMask, noisePicture } from './helpers/pictures.ts';

const [W, H] = [12, 8];
const grey = (seed: number) => noiseMask(seed, W, H);
const deep = (channels: 1 | 3, seed: number): Raster<Samples> => ({
  width: W,
  height: H,
  channels,
  data: Uint16Array.from({ length: channels * W * H }, (_, i) => (i * 7919 * seed) % 65536),
});
const maps = new Map<MapName, Raster<Samples>>([
  ['roughness', grey(3)],
  ['height', deep(1, 5)],
  ['normal', deep(3, 7)],
]);
const state = { colour: noisePicture(1, W, H), mask: grey(2), maps };
const UP = { green: 'OpenGL' } as const;
const of = (map: MapName, more: object = {}): ChannelFill => ({ map, channel: 'red', inverted: false, ...more });
const file = (fills: ChannelFill[], more: Partial<PackedFile> = {}): PackedFile => ({
  name: 'pack',
  as: (['grey', 'grey', 'RGB', 'RGBA'] as const)[fills.length - 1],
  bits: 8,
  halvings: 0,
  fills,
  ...more,
});
const channel = ({ channels, data }: Raster<Samples>, k: number) => [...data].filter((_, i) => i % channels === k);

const tools = { ...pictureTools, glb: glbTools };
const docOf = (packing: PackedFile[]): PieceDoc => ({
  ...structuredClone(PIECE_DEFAULTS),
  name: 'Leaf',
  sources: [],
  run: [],
  handOff: { ...PIECE_DEFAULTS.handOff, profile: 'own-packing', packing },
});

describe('a file whose channels a person fills', () => {
  test('holds a map, its inverse, one channel of a map, or a value; of a map that is not made its neutral', () => {
    const made = packedRaster(
      file([of('roughness'), of('roughness', { inverted: true }), of('colour', { channel: 'blue' }), { value: 0.25 }]),
      state,
      UP,
    );
    const rough = [...maps.get('roughness')!.data];
    expect([0, 1, 2, 3].map((k) => channel(made, k))).toEqual([
      rough,
      rough.map((v) => 255 - v),
      channel(state.colour, 2),
      rough.map(() => 64),
    ]);
    const missing = file([of('translucency'), of('occlusion', { inverted: true }), of('mask')]);
    const neutral = packedRaster(missing, state, UP);
    expect([channel(neutral, 0)[5], channel(neutral, 1)[5]]).toEqual([0, 0]);
    expect(missingIn(missing, new Set(maps.keys()))).toEqual(['translucency', 'occlusion']);
    expect(packedWords(missing)).toBe('R translucency, G 1 − occlusion, B mask; 8 bits');
  });

  test('has 16 bits where it is asked for, and green the way that the target has it', () => {
    const made = packedRaster(file([of('height'), of('roughness'), of('normal', { channel: 'green' })], { bits: 16 }), state, UP); // prettier-ignore
    expect(channel(made, 0)).toEqual([...maps.get('height')!.data]);
    expect(channel(made, 1)).toEqual([...maps.get('roughness')!.data].map((v) => 257 * v));
    const down = packedRaster(file([of('normal', { channel: 'green' })], { bits: 16 }), state, { green: 'DirectX' });
    for (const [i, v] of channel(down, 0).entries()) expect(Math.abs(v + channel(made, 2)[i] - 65536)).toBeLessThan(2);
    const all = {
      width: 256,
      height: 256,
      channels: 1 as const,
      data: Uint16Array.from({ length: 65536 }, (_, i) => i),
    };
    const wide = { ...state, colour: noisePicture(1, 256, 256), maps: new Map([['height', all]] as const) };
    expect(packedRaster(file([of('height')]), wide, UP).data).toEqual(toEightBits(all.data));
  });

  test('that is smaller has the mip level of each map', () => {
    const made = packedRaster(file([of('roughness'), of('colour'), of('mask')], { halvings: 2 }), state, UP);
    expect([made.width, made.height]).toEqual([3, 2]);
    expect(channel(made, 0)).toEqual([...mapMips('roughness', maps.get('roughness')!)[1].data]);
    expect(channel(made, 1)).toEqual(channel(mapMips('colour', state.colour)[1], 0));
  });

  test('is written and read back, by another reader too; two files of one name are refused', async () => {
    const packing = [file([of('colour'), of('roughness'), { value: 1 }, of('mask')]), file([of('height')], { name: 'h', bits: 16 })]; // prettier-ignore
    const doc = docOf(packing);
    const files = await packHandOff(doc, state, tools);
    expect(files.map((f) => f.name)).toEqual(['Leaf_pack.png', 'Leaf_h.png']);
    const checks = await readBack(files, doc, tools);
    expect(checks.filter((c) => !c.ok)).toEqual([]);
    expect(checks.find((c) => c.what === 'channels')?.found).toContain('R picture red, G roughness, B 1, A mask');
    const { data } = await sharp(files[0].bytes).raw().toBuffer({ resolveWithObject: true });
    expect([...data].filter((_, i) => i % 4 === 1)).toEqual([...maps.get('roughness')!.data]);
    const wrong = await readBack([{ ...files[0], bytes: files[1].bytes }], doc, tools);
    expect(wrong.some((c) => !c.ok)).toBe(true);
    const named = (a: string, b: string) => ({ ...doc, handOff: { ...doc.handOff, packing: [{ ...packing[0], name: a }, { ...packing[1], name: b }] } }); // prettier-ignore
    expect(() => assertPattern(named('pack', 'PACK'))).toThrow('same name'); // one file on some systems
    expect(() => assertPattern(named('pack', 'h'))).not.toThrow();
  });

  test.each([
    ['tga', 'grey', 8],
    ['tga', 'RGB', 8],
    ['tga', 'RGBA', 8],
    ['tif', 'grey', 16],
    ['tif', 'RGB', 8],
    ['tif', 'RGBA', 8],
    ['tif', 'RGBA', 16],
  ] as const)('%s %s %d: read back, and by another reader the same samples', async (format, as, bits) => {
    const fills = [of('roughness'), of('height'), of('colour', { channel: 'green' }), of('mask')].slice(0, PACKED_AS[as].length); // prettier-ignore
    const packed = file(fills, { format, as, bits });
    const doc = docOf([packed]);
    const [written] = await packHandOff(doc, state, tools);
    expect([written.name, (await readBack([written], doc, tools)).filter((c) => !c.ok)]).toEqual([
      `Leaf_pack.${format}`,
      [],
    ]);
    const wanted = packedRaster(packed, state, UP);
    const [other] = await decodeReceived(written.bytes, written.name);
    expect({ ...other, data: [...other.data] }).toEqual({ ...wanted, data: [...wanted.data] });
    if (format === 'tif') {
      const image = sharp(written.bytes);
      const { depth, channels, hasAlpha } = await image.metadata();
      expect([depth, channels, hasAlpha]).toEqual([
        bits === 8 ? 'uchar' : 'ushort',
        PACKED_AS[as].length,
        as === 'RGBA',
      ]);
      const raw = await image.toColourspace(bits === 8 ? 'srgb' : as === 'grey' ? 'grey16' : 'rgb16').raw({ depth: bits === 8 ? 'uchar' : 'ushort' }).toBuffer(); // prettier-ignore
      const samples = bits === 8 ? raw : new Uint16Array(raw.buffer, raw.byteOffset, raw.length / 2);
      expect([...samples]).toEqual([...wanted.data]);
    }
  });

  test('a TGA is run-length encoded by rows, and says what its alpha is (TGA 2.0, fields 5.6, 8 and 24)', () => {
    const row = [9, 9, 9, 9, 9, 1, 2, 3];
    const grey: Raster = { width: 8, height: 2, channels: 1, data: Uint8Array.from([...row, ...row]) };
    const tga = writeTga(grey);
    expect([...tga.subarray(18, 24)]).toEqual([0x84, 9, 2, 1, 2, 3]); // five alike, then three that are not
    expect([...tga.subarray(24, 30)]).toEqual([...tga.subarray(18, 24)]);
    const rgba = writeTga({ width: 1, height: 1, channels: 4, data: Uint8Array.of(1, 2, 3, 4) });
    expect([rgba[2], rgba[16], rgba[17] & 15, ...rgba.subarray(19, 23)]).toEqual([10, 32, 8, 3, 2, 1, 4]);
    expect(rgba[rgba.length - 27]).toBe(3);
    // no longer than 128 texels a packet, and never beyond what was reckoned
    const noisy = writeTga({ width: 300, height: 3, channels: 1, data: Uint8Array.from({ length: 900 }, (_, i) => (i * 97) % 251) }); // prettier-ignore
    expect(readTga(noisy).raster.data).toHaveLength(900);
  });
});
