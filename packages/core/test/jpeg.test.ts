import { expect, test } from '@jest/globals';
import sharp from 'sharp';
import { decodePicture, type CodecPlatform } from '../src/index.ts';
import { platform } from './helpers/node-codecs.ts';

const host: CodecPlatform = {
  ...platform,
  async decodeJpeg(bytes) {
    const { data, info } = await sharp(bytes).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
    return { width: info.width, height: info.height, data: new Uint8Array(data) };
  },
};
const flat = (channels: 3 | 4) =>
  sharp({ create: { width: 24, height: 16, channels, background: { r: 40, g: 90, b: 30, alpha: 1 } } });
const code = (bytes: Uint8Array) =>
  decodePicture(bytes, host).then(
    () => 'read',
    (e: { code: string }) => e.code,
  );

test('reads colour and grey, and says that no alpha can be there', async () => {
  const colour = await decodePicture(await flat(3).jpeg().toBuffer(), host);
  expect([colour.raster.width, colour.raster.height, colour.raster.channels]).toEqual([24, 16, 3]);
  expect(colour.notes).toEqual(['JPEG carries no alpha.']);
  const grey = await decodePicture(await flat(3).toColourspace('b-w').jpeg().toBuffer(), host);
  expect(grey.raster.channels).toBe(1);
});

test('tells a cut file from a damaged one, and refuses print colours', async () => {
  const good = new Uint8Array(await flat(3).jpeg({ progressive: true }).toBuffer());
  expect(await code(good.subarray(0, good.length - 30))).toBe('truncated');
  expect(await code(good.subarray(0, 30))).toBe('truncated');
  const damaged = good.slice();
  damaged[2 + 2] = 0; // length of the first segment becomes nonsense
  damaged[2 + 3] = 0;
  expect(['corrupt', 'truncated']).toContain(await code(damaged));
  expect(await code(new Uint8Array(await flat(3).toColourspace('cmyk').jpeg().toBuffer()))).toBe('unsupported');
  expect(await code(Uint8Array.of(0xff, 0xd8, 0xff, 0xda, 0, 8, 0, 0, 0, 0, 0, 0))).toBe('corrupt');
});

test('what a file claims is held against what is there, before it is decoded', async () => {
  const bytes = new Uint8Array(await flat(3).jpeg().toBuffer());
  const frame = bytes.findIndex((b, i) => b === 0xff && bytes[i + 1] === 0xc0);
  const claiming = (side: number) => {
    const out = bytes.slice();
    for (const at of [5, 7]) new DataView(out.buffer).setUint16(frame + at, side);
    return out;
  };
  let decoded = 0;
  const counting = { ...host, decodeJpeg: (file: Uint8Array) => (decoded++, host.decodeJpeg(file)) };
  const of = (file: Uint8Array) => decodePicture(file, counting).catch((e: { code: string }) => e.code);
  expect(await of(claiming(16384))).toBe('truncated');
  expect(await of(claiming(65000))).toBe('too-large');
  const arithmetic = bytes.slice();
  arithmetic[frame + 1] = 0xc9;
  expect(await of(arithmetic)).toBe('unsupported');
  expect(decoded).toBe(0);
  expect(await of(bytes)).toMatchObject({ format: 'jpeg' });
});
