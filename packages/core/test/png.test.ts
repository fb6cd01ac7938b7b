import { readdirSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { deflateSync } from 'node:zlib';
import { expect, test } from '@jest/globals';
import sharp from 'sharp';
import { decodePicture, readPng, writePng, type Raster } from '../src/index.ts';
import { crc32 } from '../src/codec/png/crc.ts';
import { joinChunks } from '../src/codec/png/chunks.ts';
import { deflate, fixture, platform } from './helpers/node-codecs.ts';
import { noisePicture } from './helpers/pictures.ts';

// PngSuite (W. van Schaik; copied for any purpose and without fee, see fixtures/pngsuite/README)
const FILES = readdirSync(fileURLToPath(new URL('./fixtures/pngsuite', import.meta.url))).filter((f) =>
  f.endsWith('.png'),
);

test('the suite is there', () => expect(FILES.length).toBe(35));

test.each(FILES)('%s: the same samples as libpng by sharp', async (file) => {
  const { raster, bitDepth } = await readPng(fixture(`pngsuite/${file}`), platform);
  const wide = raster.data instanceof Uint16Array;
  const picture = sharp(fixture(`pngsuite/${file}`));
  const reference = wide
    ? await picture
        .toColourspace(raster.channels < 3 ? 'grey16' : 'rgb16')
        .raw({ depth: 'ushort' })
        .toBuffer({ resolveWithObject: true })
    : await picture.raw().toBuffer({ resolveWithObject: true });
  expect([raster.width, raster.height]).toEqual([reference.info.width, reference.info.height]);
  expect([1, 2, 4, 8, 16]).toContain(bitDepth);
  const { buffer, byteOffset, byteLength } = reference.data;
  const values = wide
    ? new Uint16Array(buffer.slice(byteOffset, byteOffset + byteLength))
    : new Uint8Array(buffer, byteOffset, byteLength);
  const step = reference.info.channels;
  for (let t = 0; t < raster.width * raster.height; t++) {
    const mine = texel(raster, t);
    const theirs = Array.from(values.subarray(t * step, t * step + step));
    expect(mine).toEqual(step === mine.length ? theirs : expand(theirs, mine.length));
  }
});

function texel({ channels, data }: { channels: number; data: Uint8Array | Uint16Array }, t: number): number[] {
  return Array.from(data.subarray(t * channels, (t + 1) * channels));
}

/** sharp answers grey + alpha and palettes as it likes; bring it to our number of channels. */
function expand(values: number[], channels: number): number[] {
  if (values.length === 3 && channels === 1) return [values[0]];
  if (values.length === 4 && channels === 2) return [values[0], values[3]];
  if (values.length === 4 && channels === 3) return values.slice(0, 3);
  if (values.length === 1 && channels === 3) return [values[0], values[0], values[0]];
  if (values.length === 2 && channels === 4) return [values[0], values[0], values[0], values[1]];
  return values;
}

// The .sng listings of the suite name every pixel in text: an oracle that shares no code with any reader.
test.each([
  ['basn6a16', 4, 16],
  ['basn6a08', 4, 8],
  ['basn2c16', 3, 16],
])('%s: the pixels that its listing names, colour under alpha 0 included', async (name, channels, depth) => {
  const listing = Buffer.from(fixture(`pngsuite/${name}.sng`)).toString('latin1');
  const hex = /pixels hex\s+([0-9a-fA-F\s]+)/.exec(listing)![1].replace(/\s+/g, '');
  const digits = depth / 4;
  const expected = hex.match(new RegExp(`.{${digits}}`, 'g'))!.map((h) => Number.parseInt(h, 16));
  const { raster } = await readPng(fixture(`pngsuite/${name}.png`), platform);
  expect(raster.channels).toBe(channels);
  expect(Array.from(raster.data)).toEqual(expected);
});

test.each([1, 2, 3, 4] as const)(
  'writes %i channels that libpng reads back exactly, colour under alpha 0 too',
  async (channels) => {
    const noise = noisePicture(channels, 33, 19).data.subarray(0, 33 * 19 * channels);
    const raster: Raster = { width: 33, height: 19, channels, data: noise };
    if (channels === 4) for (let i = 3; i < noise.length; i += 8) noise[i] = 0;
    const file = await writePng(raster, deflate);
    const mine = await readPng(file, platform);
    expect(mine.raster).toEqual(raster);
    const { data, info } = await sharp(file).raw().toBuffer({ resolveWithObject: true });
    for (let t = 0; t < 33 * 19; t++) {
      const theirs = Array.from(data.subarray(t * info.channels, (t + 1) * info.channels));
      expect(expand(theirs, channels)).toEqual(texel(raster, t));
    }
  },
);

test('CRC-32 of the ASCII digits is the published check value', () => {
  expect(crc32(new TextEncoder().encode('123456789'))).toBe(0xcbf43926); // ITU-T V.42 check value
});

function header(width: number, height: number, depth = 8, type = 6): Uint8Array {
  const data = new Uint8Array(13);
  const view = new DataView(data.buffer);
  view.setUint32(0, width);
  view.setUint32(4, height);
  data.set([depth, type, 0, 0, 0], 8);
  return data;
}
const png = (ihdr: Uint8Array, idat: Uint8Array) =>
  joinChunks([
    { type: 'IHDR', data: ihdr },
    { type: 'IDAT', data: idat },
    { type: 'IEND', data: new Uint8Array(0) },
  ]);

test('names what is wrong with a bad file', async () => {
  const good = fixture('pngsuite/basn6a08.png');
  const flipped = good.slice();
  flipped[60] ^= 0x40;
  const code = (bytes: Uint8Array) =>
    decodePicture(bytes, platform).then(
      () => 'read',
      (e: { code: string }) => e.code,
    );
  expect(await code(new Uint8Array(0))).toBe('empty-file');
  expect(await code(new TextEncoder().encode('GIF89a, not a picture of ours'))).toBe('unknown-format');
  expect(await code(good.subarray(0, 150))).toBe('truncated');
  expect(await code(flipped)).toBe('corrupt');
  expect(await code(png(header(20000, 10), new Uint8Array(1)))).toBe('too-large');
  expect(await code(png(header(16384, 16385), new Uint8Array(1)))).toBe('too-large');
  expect(await code(png(header(0, 10), new Uint8Array(1)))).toBe('corrupt');
  expect(await code(png(header(4, 4, 3), new Uint8Array(1)))).toBe('corrupt');
  expect(await code(png(header(4, 4), new Uint8Array(deflateSync(new Uint8Array(20)))))).toBe('truncated');
  expect(await code(png(header(1, 1), new Uint8Array(deflateSync(Uint8Array.of(9, 1, 2, 3, 4)))))).toBe('corrupt'); // filter 9
});

test('a bomb behind a small header inflates no further than the header says', async () => {
  const bomb = new Uint8Array(deflateSync(new Uint8Array(50_000_000)));
  const { raster } = await readPng(png(header(2, 2), bomb), platform);
  expect(raster.data.length).toBe(16);
});
