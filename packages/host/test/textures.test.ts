import { describe, expect, test } from '@jest/globals';
import { zlibSync } from 'fflate';
import { read, type KTX2Container } from 'ktx-parse';
import sharp from 'sharp';
import {
  allLevelBytes,
  benchLook,
  decodePicture,
  makeMask,
  makePicture,
  packHandOff,
  packingOf,
  PIECE_DEFAULTS,
  readBack,
  readKtx2Levels,
  receiveHandOff,
  TARGET_AT_FIRST,
  writeKtx2,
  type ChannelFill,
  type MapName,
  type PackedFile,
  type PackTools,
  type PieceDoc,
  type Raster,
  type RunState,
  type Samples,
  type TextureFormat,
} from '@lithe-sieve/core/testing';
import { glbTools } from '../src/glb/tools.ts';
import { nodePlatform } from '../src/node-platform.ts';
import { pictureTools } from '../src/picture-tools.ts';
import { decodeReceived } from '../src/receive.ts';

const [W, H] = [20, 12]; // no multiple of four at the smaller levels
const tools: PackTools = { ...pictureTools, glb: glbTools };
const state = {
  colour: makePicture(
    W,
    H,
    Uint8Array.from({ length: 4 * W * H }, (_, i) => (i % 4 === 3 ? 255 : (7 * i) % 256)),
  ),
  mask: makeMask(
    W,
    H,
    Uint8Array.from({ length: W * H }, (_, i) => (37 * i) % 256),
  ),
  maps: new Map<MapName, Raster<Samples>>([
    ['normal', { width: W, height: H, channels: 3, data: new Uint16Array(3 * W * H).fill(40000) }],
    ['roughness', makeMask(W, H, new Uint8Array(W * H).fill(99))],
  ]),
} as unknown as RunState;
const docOf = (handOff: Partial<PieceDoc['handOff']>): PieceDoc => ({
  ...structuredClone(PIECE_DEFAULTS),
  ...{ name: 'Leaf', sources: [], run: [] },
  handOff: { ...PIECE_DEFAULTS.handOff, ...handOff },
});
async function handedOff(doc: PieceDoc) {
  const files = await packHandOff(doc, state, tools);
  const checks = await readBack(files, doc, tools);
  return { files, checks, failed: checks.filter((c) => !c.ok).map((c) => c.what) };
}

const ramp = (w: number, h: number, bytes: number) => ({
  width: w,
  height: h,
  data: Uint8Array.from({ length: bytes }, (_, i) => (31 * i) % 256),
});
const BLOCK = {
  r8: [1, 1],
  rgba8: [1, 4],
  BC1: [4, 8],
  BC3: [4, 16],
  BC4: [4, 8],
  BC5: [4, 16],
  BC7: [4, 16],
} as const;
function levelsFor(format: TextureFormat) {
  const [side, bytes] = BLOCK[format];
  return [[20, 12], [10, 6], [5, 3], [2, 1], [1, 1]].map(([w, h]) => ramp(w, h, Math.ceil(w / side) * Math.ceil(h / side) * bytes)); // prettier-ignore
}

describe('KTX 2.0', () => {
  // VkFormat: Vulkan 1.3 §43.1; models and channels: Khronos Data Format Specification 1.3 §5.6, §5.11–5.13; read by ktx-parse 2.0
  test.each([
    ['r8', 'values', 9, 1, [[0, 7, 0]]],
    [
      'rgba8',
      'colour',
      43,
      1,
      [
        [0, 7, 0],
        [8, 7, 1],
        [16, 7, 2],
        [24, 7, 15 | 16],
      ],
    ],
    [
      'rgba8',
      'values',
      37,
      1,
      [
        [0, 7, 0],
        [8, 7, 1],
        [16, 7, 2],
        [24, 7, 15],
      ],
    ],
    ['BC1', 'colour', 134, 128, [[0, 63, 1]]],
    [
      'BC3',
      'colour',
      138,
      130,
      [
        [0, 63, 15 | 16],
        [64, 63, 0],
      ],
    ],
    ['BC4', 'values', 139, 131, [[0, 63, 0]]],
    [
      'BC5',
      'values',
      141,
      132,
      [
        [0, 63, 0],
        [64, 63, 1],
      ],
    ],
    ['BC7', 'colour', 146, 134, [[0, 127, 0]]],
    ['BC7', 'values', 145, 134, [[0, 127, 0]]],
  ] as const)(
    '%s of %s: header, descriptor and levels as another reader has them',
    (format, holds, vkFormat, model, samples) => {
      const levels = levelsFor(format);
      for (const zlib of [false, true]) {
        const bytes = writeKtx2(levels, format, holds, zlib);
        const found: KTX2Container = read(bytes);
        const { typeSize, pixelWidth, pixelHeight, pixelDepth, layerCount, faceCount, levelCount } = found;
        expect([found.vkFormat, typeSize, pixelWidth, pixelHeight, pixelDepth]).toEqual([vkFormat, 1, 20, 12, 0]);
        expect([layerCount, faceCount, levelCount, found.supercompressionScheme]).toEqual([0, 1, 5, zlib ? 3 : 0]);
        expect(found.keyValue).toMatchObject({ KTXorientation: 'rd', KTXwriter: 'Lithe Sieve' });
        const [dfd] = found.dataFormatDescriptor;
        expect([dfd.colorModel, dfd.colorPrimaries, dfd.transferFunction, dfd.flags]).toEqual([model, 1, holds === 'colour' ? 2 : 1, 0]); // prettier-ignore
        const [side, size] = BLOCK[format];
        expect([[...dfd.texelBlockDimension], dfd.bytesPlane[0]]).toEqual([[side - 1, side - 1, 0, 0], size]);
        expect(dfd.samples.map((s) => [s.bitOffset, s.bitLength, s.channelType])).toEqual(samples);
        expect(found.levels.map((l) => l.uncompressedByteLength)).toEqual(levels.map((l) => l.data.length));
        if (!zlib) expect(found.levels.map((l) => [...l.levelData])).toEqual(levels.map((l) => [...l.data]));
        // the smallest first, each at a multiple of its block and of four (KTX 2.0 §3.9.7)
        const places = levels.map((_, i) => new DataView(bytes.buffer).getUint32(80 + 24 * i, true));
        expect([...places].sort((a, b) => b - a)).toEqual(places);
        if (!zlib) expect(places.every((at) => at % Math.max(4, size) === 0)).toBe(true);
        expect(readKtx2Levels(bytes)).toMatchObject({ format, holds });
      }
    },
  );

  test('damaged, huge and strange ones are refused in words, whatever they claim to unpack to', async () => {
    const good = writeKtx2(levelsFor('rgba8'), 'rgba8', 'colour', true);
    const with32 = (at: number, value: number, from = good) => {
      const bytes = from.slice();
      new DataView(bytes.buffer).setUint32(at, value, true);
      return bytes;
    };
    const refused = (bytes: Uint8Array) => {
      try {
        readKtx2Levels(bytes);
        return 'read';
      } catch (error) {
        return (error as { code?: string }).code;
      }
    };
    expect(refused(good.subarray(0, good.length - 9))).toBe('truncated');
    expect(refused(with32(12, 1000054000))).toBe('unsupported'); // PVRTC
    expect(refused(with32(44, 1))).toBe('unsupported'); // BasisLZ
    expect(refused(with32(36, 6))).toBe('unsupported'); // a cube
    expect(refused(with32(40, 30))).toBe('corrupt'); // levels
    expect(refused(with32(20, 1 << 30))).toBe('too-large');
    expect(refused(with32(96, 7))).toBe('corrupt'); // uncompressed length
    const bomb = zlibSync(new Uint8Array(50_000_000));
    const small = writeKtx2([ramp(1, 1, 4)], 'rgba8', 'colour', true);
    const [at, length] = [small.length, bomb.length];
    const swollen = new Uint8Array(at + length);
    swollen.set(small);
    swollen.set(bomb, at);
    expect(refused(with32(88, length, with32(80, at, swollen)))).toBe('corrupt');
    const { format, raster } = await decodePicture(good, nodePlatform);
    expect([format, raster.width, raster.channels]).toEqual(['ktx2', 20, 4]);
    expect([...raster.data]).toEqual([...levelsFor('rgba8')[0].data]);
  });

  test.each(['KTX2', 'KTX2, zlib'] as const)(
    'a %s handed off: read back, and as a target reads its levels',
    async (container) => {
      for (const profile of ['dds-bc7', 'dds-bc3', 'dds-bc1', 'dds-rgba'] as const) {
        const doc = docOf({ profile, container });
        const { files, failed } = await handedOff(doc);
        expect([files.map((f) => f.name), failed]).toEqual([['Leaf_base.ktx2'], []]);
        const verdicts = await receiveHandOff(doc, files, benchLook(doc, state, undefined), { decode: decodeReceived });
        expect(verdicts.filter((v) => v.meant).map((v) => [v.id, v.agrees])).toContainEqual(['file-levels', true]);
        const cut = files.map((f) => ({ ...f, bytes: f.bytes.subarray(0, f.bytes.length - 20) }));
        const [broken] = await receiveHandOff(doc, cut, benchLook(doc, state, undefined), { decode: decodeReceived });
        expect([broken.agrees, broken.words]).toEqual([false, expect.stringContaining('refuses')]);
      }
    },
  );
});

const of = (map: MapName, channel: 'red' | 'green' | 'blue' = 'red'): ChannelFill => ({
  map,
  channel,
  inverted: false,
});
const COLOURS = [of('colour'), of('colour', 'green'), of('colour', 'blue')];
const packedFile = (more: Partial<PackedFile> & Pick<PackedFile, 'fills' | 'as'>): PackedFile => ({
  ...{ name: 'base', bits: 8, halvings: 0, format: 'ktx2' },
  ...more,
});

describe('packed files with their levels', () => {
  test.each([
    ['opacity alone in BC4', packedFile({ as: 'grey', blocks: 'BC4', fills: [of('mask')] }), 'on its side'],
    ['opacity alone, no blocks', packedFile({ as: 'grey', fills: [of('mask')], format: 'dds' }), 'on its side'],
    [
      'opacity in alpha, BC7',
      packedFile({ as: 'RGBA', blocks: 'BC7', fills: [...COLOURS, of('mask')] }),
      'on its side',
    ],
    [
      'at half the size, BC3',
      packedFile({ as: 'RGBA', blocks: 'BC3', halvings: 1, fills: [...COLOURS, of('mask')] }),
      'on its side',
    ],
    [
      'opacity in green of BC7',
      packedFile({ as: 'RGB', blocks: 'BC7', fills: [of('roughness'), of('mask'), { value: 0 }] }),
      'may change side',
    ],
    [
      'normals in BC5',
      packedFile({ as: 'RGB', blocks: 'BC5', fills: [of('normal'), of('normal', 'green'), of('normal', 'blue')] }),
      null,
    ],
  ] as const)('%s', async (_, file, clip) => {
    const { files, checks, failed } = await handedOff(docOf({ profile: 'own-packing', packing: [file] }));
    expect(failed).toEqual([]);
    const said = checks.find((c) => c.what === 'clip')?.found ?? null;
    if (clip) expect(said).toContain(clip);
    else expect(said).toBeNull();
    expect(checks.find((c) => c.what === 'channels')!.found.includes('(no blue)')).toBe(file.blocks === 'BC5');
    expect(checks.find((c) => c.what === 'mip levels')!.found).toBe(file.halvings ? '4' : '5');
    const [texture] = await decodeReceived(files[0].bytes, files[0].name);
    expect([texture.width, texture.height]).toEqual(file.halvings ? [10, 6] : [20, 12]);
  });

  test('a target that takes a channel with its levels sees each as the Bench has it', async () => {
    const packing = [
      packedFile({ as: 'RGBA', fills: [...COLOURS, { value: 1 }] }),
      packedFile({
        name: 'pack',
        as: 'RGBA',
        blocks: 'BC7',
        fills: [of('roughness'), { value: 0 }, { value: 0 }, of('mask')],
      }),
    ];
    const target = {
      ...TARGET_AT_FIRST,
      levels: 'file' as const,
      opacity: 'a channel' as const,
      channel: { file: 'pack', channel: 3 },
    };
    const doc = docOf({ profile: 'own-packing', packing, target });
    const { files, failed } = await handedOff(doc);
    expect(failed).toEqual([]);
    const decode = { decode: decodeReceived };
    const [first] = await receiveHandOff(doc, files, benchLook(doc, state, undefined), decode);
    expect([first.id, first.agrees, first.wrongSide]).toEqual(['file-levels', true, 0]);
    const other = { ...doc, handOff: { ...doc.handOff, target: { ...target, channel: { file: 'pack', channel: 0 } } } };
    const [wrong] = await receiveHandOff(other, files, benchLook(doc, state, undefined), decode);
    expect([wrong.id, wrong.agrees]).toEqual(['file-levels', false]);
  });
});

test.each(['dds-bc7', 'dds-bc3', 'dds-bc1', 'dds-rgba'] as const)(
  '%s as a packing of one’s own writes the same bytes',
  async (profile) => {
    for (const container of ['DDS', 'KTX2'] as const) {
      const doc = docOf({ profile, container });
      const packing = packingOf(doc, new Set())!;
      const own = docOf({ profile: 'own-packing', packing });
      const [[shipped], [duplicated]] = [await packHandOff(doc, state, tools), await packHandOff(own, state, tools)];
      expect([duplicated.name, Buffer.compare(shipped.bytes, duplicated.bytes)]).toEqual([shipped.name, 0]);
    }
  },
);

test('a WebP is lossless, with colour under alpha 0, as libwebp in sharp reads it', async () => {
  const fills = [...COLOURS, of('mask')];
  const { files, failed } = await handedOff(docOf({ profile: 'own-packing', packing: [packedFile({ as: 'RGBA', format: 'webp', fills })] })); // prettier-ignore
  expect([files[0].name, failed]).toEqual(['Leaf_base.webp', []]);
  const { data, info } = await sharp(files[0].bytes).raw().toBuffer({ resolveWithObject: true });
  expect([info.width, info.channels]).toEqual([W, 4]);
  const wanted = state.colour.data.map((v, i) => (i % 4 === 3 ? state.mask.data[i >> 2] : v));
  expect(Buffer.compare(data, Buffer.from(wanted))).toBe(0);
  expect(allLevelBytes('rgba8', 2, 2)).toBe(20);
});
