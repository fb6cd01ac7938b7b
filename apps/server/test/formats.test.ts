import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { inflateSync } from 'node:zlib';
import { describe, expect, test } from '@jest/globals';
import { decodePicture, isSieveError, toRgba8, type DecodedPicture } from '@lithe-sieve/core/testing';
import sharp, { type Sharp } from 'sharp';
import { nodePlatform } from '@lithe-sieve/host';

const FOLDER = fileURLToPath(new URL('./fixtures/x-image/', import.meta.url));
const decode = (bytes: Uint8Array) => decodePicture(new Uint8Array(bytes), nodePlatform);
const code = (bytes: Uint8Array) =>
  decode(bytes).then(
    () => 'read',
    (e: { code: string }) => e.code,
  );

/** Width, height and RGBA as the independent libraries see a file. */
async function theirs(file: Sharp): Promise<{ width: number; height: number; data: Buffer }> {
  const { data, info } = await file.toColourspace('srgb').ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
}

/** Largest difference of any sample; 8-bit, straight alpha. */
async function farthest(ours: DecodedPicture, bytes: Uint8Array): Promise<number> {
  const other = await theirs(sharp(bytes));
  const mine = toRgba8(ours.raster);
  expect([mine.width, mine.height]).toEqual([other.width, other.height]);
  return mine.data.reduce((most, v, i) => Math.max(most, Math.abs(v - other.data[i])), 0);
}

test.each(readdirSync(FOLDER).filter((f) => /\.(tiff|webp)$/.test(f)))(
  '%s is read as libtiff or libwebp reads it',
  async (name) => {
    const bytes = readFileSync(`${FOLDER}${name}`);
    expect(await farthest(await decode(bytes), bytes)).toBeLessThanOrEqual(name.includes('16bit') ? 1 : 0);
  },
);

/** Noise with texels of every alpha, colour under alpha 0 among them. */
const SIDE = 53;
const noise = new Uint8Array(4 * SIDE * SIDE).map((_, i) =>
  i % 4 === 3 ? [0, 255, 90, 7][(i >> 2) % 4] : (i * 7919) >> 3,
);
const picture = () => sharp(noise, { raw: { width: SIDE, height: SIDE, channels: 4 } });

describe('TIFF written by libtiff', () => {
  test.each([
    ['none', {}],
    ['lzw', { predictor: 'horizontal' }],
    ['lzw', { predictor: 'none' }],
    ['deflate', { predictor: 'horizontal' }],
    ['deflate', { tile: true, tileWidth: 16, tileHeight: 16 }],
    ['packbits', {}],
  ] as const)('%s %j: every texel, colour under alpha 0 too', async (compression, options) => {
    const file = await picture()
      .tiff({ compression, ...options })
      .toBuffer();
    const { raster, format, notes } = await decode(file);
    expect([format, raster.channels, notes]).toEqual(['tiff', 4, []]);
    expect(Buffer.compare(Buffer.from(raster.data), Buffer.from(noise))).toBe(0);
  });

  test('16 bits stay 16 bits', async () => {
    const wide = Uint16Array.from({ length: 3 * 400 }, (_, i) => (i * 54321) & 65535);
    const file = await sharp(wide, { raw: { width: 20, height: 20, channels: 3 } })
      .toColourspace('rgb16')
      .tiff({ compression: 'deflate', predictor: 'horizontal' })
      .toBuffer();
    const { raster, bitDepth } = await decode(file);
    expect(bitDepth).toBe(16);
    expect([...raster.data]).toEqual([...wide]);
  });

  test('an associated alpha is divided out and reported', async () => {
    const file = new Uint8Array(await picture().tiff({ compression: 'none' }).toBuffer());
    const view = new DataView(file.buffer);
    const at = view.getUint32(4, true);
    for (let i = 0; i < view.getUint16(at, true); i++) {
      if (view.getUint16(at + 2 + 12 * i, true) === 338) view.setUint16(at + 10 + 12 * i, 1, true);
    }
    const { raster, notes } = await decode(file);
    expect(notes.join()).toContain('premultiplied (associated)');
    const half = [...noise.keys()].find((i) => i % 4 === 3 && noise[i] === 90)!;
    expect(raster.data[half - 1]).toBe(Math.min(255, Math.floor((noise[half - 1] * 255) / 90 + 0.5)));
  });
});

test.each([1, 2, 3, 4, 5, 6, 7, 8])('orientation %i of a TIFF, a WebP and a PNG is obeyed', async (orientation) => {
  const strip = sharp(noise.subarray(0, 4 * 6 * 4), { raw: { width: 6, height: 4, channels: 4 } });
  for (const format of ['tiff', 'webp', 'png'] as const) {
    const file = await strip
      .clone()
      .withMetadata({ orientation })
      .toFormat(
        format,
        format === 'webp' ? { lossless: true, exact: true } : format === 'tiff' ? { compression: 'none' } : {},
      )
      .toBuffer();
    const upright = await sharp(file).autoOrient().ensureAlpha().raw().toBuffer({ resolveWithObject: true });
    const { raster } = await decode(file);
    expect([raster.width, raster.height]).toEqual([upright.info.width, upright.info.height]);
    const opaque = (data: Uint8Array) => [...data].filter((_, i) => data[i | 3] === 255);
    expect(opaque(raster.data as Uint8Array)).toEqual(opaque(upright.data)); // theirs loses colour under alpha 0
  }
});

describe('WebP written by libwebp', () => {
  test('lossless: every texel, colour under alpha 0 too', async () => {
    const { raster, notes } = await decode(await picture().webp({ lossless: true, exact: true }).toBuffer());
    expect(Buffer.compare(Buffer.from(raster.data), Buffer.from(noise))).toBe(0);
    expect(notes).toEqual([]);
  });

  test('lossy says so; animations and cut files are refused', async () => {
    const lossy = await sharp(noise, { raw: { width: SIDE, height: SIDE, channels: 4 } })
      .removeAlpha()
      .webp()
      .toBuffer();
    const read = await decode(lossy);
    expect([read.raster.channels, read.notes[0]]).toEqual([
      3,
      'Lossy: its colours are near what was saved, not the same.',
    ]);
    expect(await code(lossy.subarray(0, lossy.length - 20))).toBe('truncated');
    const frames = sharp(noise.subarray(0, 4 * 2 * 40), { raw: { width: 2, height: 40, channels: 4, pageHeight: 20 } });
    expect(await code(await frames.webp({ loop: 0 }).toBuffer())).toBe('unsupported');
  });
});

describe('DDS', () => {
  function dds(width: number, height: number, fourCc: string, body: number[], masks: number[] = []): Uint8Array {
    const file = new Uint8Array(128 + body.length);
    const view = new DataView(file.buffer);
    file.set(Buffer.from('DDS '), 0);
    view.setUint32(4, 124, true);
    view.setUint32(12, height, true);
    view.setUint32(16, width, true);
    view.setUint32(76, 32, true);
    view.setUint32(80, fourCc ? 4 : 0x41, true);
    file.set(Buffer.from(fourCc), 84);
    masks.forEach((mask, i) => view.setUint32(88 + 4 * i, mask, true));
    file.set(body, 128);
    return file;
  }
  const texels = async (file: Uint8Array) => {
    const { raster } = await decode(file);
    const { channels } = raster;
    return Array.from({ length: raster.data.length / channels }, (_, i) => [
      ...raster.data.subarray(channels * i, channels * (i + 1)),
    ]);
  };

  // worked from the Khronos Data Format Specification 1.3, §18 and §19
  test('BC1: colour0 above colour1 mixes by thirds; else by halves with a transparent index', async () => {
    const thirds = await texels(dds(4, 4, 'DXT1', [0x00, 0xf8, 0x1f, 0x00, 0b11100100, 0, 0, 0]));
    expect(thirds.slice(0, 4)).toEqual([
      [255, 0, 0],
      [0, 0, 255],
      [170, 0, 85],
      [85, 0, 170],
    ]);
    const punched = await texels(dds(4, 4, 'DXT1', [0x1f, 0x00, 0x00, 0xf8, 0b11100100, 0, 0, 0]));
    expect(punched.slice(0, 4)).toEqual([
      [0, 0, 255, 255],
      [255, 0, 0, 255],
      [127, 0, 127, 255],
      [0, 0, 0, 0],
    ]);
  });

  test('BC2, BC3, BC4 and BC5: alpha and channels by their own ramps; a picture of 3 × 2 is cut from its block', async () => {
    const white = [0xff, 0xff, 0xff, 0xff, 0, 0, 0, 0];
    const bc2 = await texels(dds(3, 2, 'DXT3', [0x10, 0x32, 0x54, 0x76, 0, 0, 0, 0, ...white]));
    expect(bc2.map((t) => t[3])).toEqual([0, 17, 34, 68, 85, 102]);
    // ends 0 and 255: six steps with 0 and 255 of their own
    const ramp = [0, 255, 0b10001000, 0b11000110, 0b11111010, 0, 0, 0]; // indices 0 1 2 3 4 5 6 7
    const bc3 = await texels(dds(4, 2, 'DXT5', [...ramp, ...white]));
    expect(bc3.map((t) => t[3])).toEqual([0, 255, 51, 102, 153, 204, 0, 255]);
    expect((await texels(dds(4, 2, 'ATI1', ramp))).map((t) => t[0])).toEqual([0, 255, 51, 102, 153, 204, 0, 255]);
    expect((await texels(dds(4, 2, 'ATI2', [...ramp, ...ramp])))[3]).toEqual([102, 102, 0]);
  });

  test('uncompressed, by masks; what is not read says so', async () => {
    const argb = dds(2, 1, '', [3, 2, 1, 4, 30, 20, 10, 40], [32, 0xff0000, 0xff00, 0xff, 0xff000000]);
    expect(await texels(argb)).toEqual([
      [1, 2, 3, 4],
      [10, 20, 30, 40],
    ]);
    const r5g6b5 = dds(1, 1, '', [0x1f, 0xf8], [16, 0xf800, 0x7e0, 0x1f, 0]);
    expect(await texels(r5g6b5)).toEqual([[255, 0, 255]]);
    expect(await code(dds(4, 4, 'DX10', [95, 0, 0, 0, ...new Array<number>(32).fill(0)]))).toBe('unsupported');
    expect(await code(dds(64, 64, 'DXT1', [1, 2, 3]))).toBe('truncated');
  });
});

interface BlockFile {
  name: string;
  file: string;
  rgbaDeflated: string;
}
const blockFiles = JSON.parse(
  readFileSync(new URL('../../../packages/core/test/fixtures/dds.json', import.meta.url), 'utf8'),
) as { files: BlockFile[] };

/** The specification leaves the rounding of mixed colours open, but for BC7. */
const ROUNDING: Record<string, number> = { DX10: 0 };

test.each(blockFiles.files)('$name blocks as Pillow reads them', async ({ name, file, rgbaDeflated }) => {
  const ours = toRgba8((await decode(Buffer.from(file, 'base64'))).raster).data;
  const pillow = inflateSync(Buffer.from(rgbaDeflated, 'base64'));
  const apart = ours.reduce((most, v, i) => Math.max(most, Math.abs(v - pillow[i])), 0);
  expect(apart).toBeLessThanOrEqual(ROUNDING[name] ?? 1);
});

/** Of every format, and the side of its picture; `FUZZ=2000 FUZZ_SIDE=1024 npm run unit -- formats` for more. */
const ROUNDS = Number(process.env['FUZZ'] ?? 250);
const FUZZ_SIDE = Number(process.env['FUZZ_SIDE'] ?? 20);
const MOST_BYTES = 2 ** 31;

/** Bytes changed at random, cut, or doubled: the reader may refuse, with an error of ours, and must not hang. */
test.each(['tiff', 'webp', 'png', 'jpeg', 'dds', 'tga'])(
  'mutated %s files are read or refused, never more',
  async (kind) => {
    let state = kind.length * 7919;
    const next = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 4294967296;
    const small = sharp(
      new Uint8Array(4 * FUZZ_SIDE * FUZZ_SIDE).map((_, i) => noise[i % noise.length]),
      { raw: { width: FUZZ_SIDE, height: FUZZ_SIDE, channels: 4 } },
    );
    const [low, high] = [FUZZ_SIDE & 255, FUZZ_SIDE >> 8];
    const withHeader = (header: number[], bytes: number) =>
      Uint8Array.from({ length: header.length + bytes }, (_, i) => header[i] ?? (i * 31) & 255);
    const ddsHeader = new Array<number>(128).fill(0);
    Buffer.from('DDS ').forEach((v, i) => (ddsHeader[i] = v));
    Buffer.from('DX10').forEach((v, i) => (ddsHeader[84 + i] = v));
    for (const at of [12, 16]) [ddsHeader[at], ddsHeader[at + 1]] = [low, high];
    ddsHeader[80] = 4;
    const seeds: Record<string, Uint8Array> = {
      tiff: await small.clone().tiff({ compression: 'lzw' }).toBuffer(),
      webp: await small.clone().webp({ lossless: true }).toBuffer(),
      png: await small.clone().png().toBuffer(),
      jpeg: await small.clone().removeAlpha().jpeg().toBuffer(),
      dds: withHeader([...ddsHeader, 98, ...new Array<number>(19).fill(0)], (FUZZ_SIDE + 3) ** 2), // BC7
      tga: withHeader([0, 0, 10, 0, 0, 0, 0, 0, 0, 0, 0, 0, low, high, low, high, 32, 8], 5 * FUZZ_SIDE ** 2),
    };
    await decode(seeds[kind]);
    for (let round = 0; round < ROUNDS; round++) {
      const file = new Uint8Array(seeds[kind]);
      for (let k = 0; k <= round % 7; k++) file[Math.floor(next() * file.length)] = Math.floor(256 * next());
      const cut = next() < 0.2 ? file.subarray(0, Math.floor(next() * file.length)) : file;
      const started = performance.now();
      await decode(cut).catch((error: unknown) => {
        if (!isSieveError(error)) throw error;
      });
      expect(performance.now() - started).toBeLessThan(5000);
      expect(process.memoryUsage.rss()).toBeLessThan(MOST_BYTES);
    }
  },
);

test('after a hostile file, the next good one is read all the same', async () => {
  const good = await picture().webp({ lossless: true, exact: true }).toBuffer();
  const huge = new Uint8Array(good);
  const at = Buffer.from(good).indexOf('VP8L') + 9;
  huge.set([0xff, 0xff, 0xff, 0x0f], at); // claims 16384 × 16384
  expect(['corrupt', 'too-large', 'truncated']).toContain(await code(huge));
  expect((await decode(good)).raster.width).toBe(SIDE);
  const tiff = new Uint8Array(await picture().tiff({ compression: 'deflate' }).toBuffer());
  const view = new DataView(tiff.buffer);
  const directory = view.getUint32(4, true);
  for (let i = 0; i < view.getUint16(directory, true); i++) {
    const entry = directory + 2 + 12 * i;
    if ([256, 257, 278].includes(view.getUint16(entry, true))) view.setUint32(entry + 8, 16384, true);
  }
  expect(await code(tiff)).toBe('truncated');
});
