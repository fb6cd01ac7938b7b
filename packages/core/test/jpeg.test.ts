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
