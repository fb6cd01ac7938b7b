import { expect, test } from '@jest/globals';
import { decodePicture, readPng, readTga } from '../src/testing.ts';
import { fixture, platform } from './helpers/node-codecs.ts';

// Files by encoders that are not ours: see fixtures/tga/make.py
const W = 37;
const H = 23;

function texel(x: number, y: number): number[] {
  const alpha = (Math.floor(x / 5) + Math.floor(y / 4)) % 3 === 0 ? 0 : (x * 7 + y * 3) % 256;
  return [(x * 7) % 256, (y * 11) % 256, (Math.floor(x / 4) * 32 + Math.floor(y / 6)) % 256, alpha];
}
function texels(take: (t: number[]) => number[]): number[] {
  return Array.from({ length: W * H }, (_, i) => take(texel(i % W, Math.floor(i / W)))).flat();
}

test.each(['pillow-rgba-raw', 'pillow-rgba-rle', 'pillow-rgba-raw-topleft', 'graphics-rgba-raw', 'graphics-rgba-rle'])(
  '%s: every texel, straight alpha, colour under alpha 0',
  (name) => {
    const { raster } = readTga(fixture(`tga/${name}.tga`));
    expect([raster.width, raster.height, raster.channels]).toEqual([W, H, 4]);
    expect(Array.from(raster.data)).toEqual(texels((t) => t));
  },
);

test.each(['pillow-rgb-rle', 'graphics-rgb-raw'])('%s: 24 bits, said to carry no alpha', (name) => {
  const { raster, notes } = readTga(fixture(`tga/${name}.tga`));
  expect(raster.channels).toBe(3);
  expect(Array.from(raster.data)).toEqual(texels((t) => t.slice(0, 3)));
  expect(notes).toEqual(['24-bit: no alpha.']);
});

test('grey, run-length encoded', () => {
  const { raster } = readTga(fixture('tga/pillow-grey-rle.tga'));
  expect(raster.channels).toBe(1);
  expect(Array.from(raster.data)).toEqual(texels((t) => [t[2]]));
});

test('colour-mapped, against the same picture as PNG', async () => {
  const { raster, palette } = readTga(fixture('tga/pillow-mapped.tga'));
  const { raster: expected } = await readPng(fixture('tga/pillow-mapped.png'), platform);
  expect(palette).toBe(true);
  expect(Array.from(raster.data)).toEqual(Array.from(expected.data));
});

/** A 2 × 1 picture: header, then blue-green-red(-alpha) values. */
function tga(descriptor: number, bits: number, values: number[], type = 2): Uint8Array {
  return Uint8Array.of(0, 0, type, 0, 0, 0, 0, 0, 0, 0, 0, 0, 2, 0, 1, 0, bits, descriptor, ...values);
}

test('right-to-left order, and 32 bits with and without alpha bits declared', () => {
  const two = [1, 2, 3, 9, 4, 5, 6, 8];
  expect(Array.from(readTga(tga(0x28, 32, two)).raster.data)).toEqual([3, 2, 1, 9, 6, 5, 4, 8]);
  expect(Array.from(readTga(tga(0x38, 32, two)).raster.data)).toEqual([6, 5, 4, 8, 3, 2, 1, 9]);
  expect(readTga(tga(0x20, 32, two)).notes[0]).toContain('declares no alpha bits');
  const unwritten = readTga(tga(0x20, 32, [1, 2, 3, 0, 4, 5, 6, 0]));
  expect([unwritten.raster.channels, unwritten.notes[0]]).toEqual([3, expect.stringContaining('never written')]);
  expect(readTga(tga(0x28, 32, [1, 2, 3, 0, 4, 5, 6, 0])).raster.channels).toBe(4); // declared: all transparent
});

test('16 bits: five a channel and one of alpha where declared', () => {
  const { raster, bitDepth } = readTga(tga(0x21, 16, [0xff, 0xff, 0x00, 0x7c]));
  expect([Array.from(raster.data), bitDepth]).toEqual([[255, 255, 255, 255, 255, 0, 0, 0], 5]);
  expect(readTga(tga(0x21, 16, [0xff, 0x7f, 0x00, 0x7c])).raster.channels).toBe(3); // the bit was never written
});

/** A file with the extension area and footer of TGA 2.0, fields 24 and 28–30. */
function version2(type: number, values: number[]): Uint8Array {
  const picture = tga(0x28, 32, values);
  const out = new Uint8Array(picture.length + 495 + 26);
  out.set(picture);
  out[picture.length + 494] = type;
  new DataView(out.buffer).setUint32(picture.length + 495, picture.length, true);
  out.set(new TextEncoder().encode('TRUEVISION-XFILE.'), picture.length + 495 + 8);
  return out;
}

test('obeys the attributes type: no alpha, undefined, alpha, premultiplied', () => {
  const values = [10, 20, 30, 128, 1, 2, 3, 0];
  const read = (type: number) => readTga(version2(type, values)).raster;
  expect([0, 1, 2, 3, 4].map((type) => read(type).channels)).toEqual([3, 3, 4, 4, 4]);
  expect(Array.from(read(3).data)).toEqual([30, 20, 10, 128, 3, 2, 1, 0]);
  expect(Array.from(read(4).data)).toEqual([60, 40, 20, 128, 3, 2, 1, 0]);
});

test('says what is wrong', async () => {
  const good = fixture('tga/pillow-rgba-rle.tga');
  const code = (bytes: Uint8Array) =>
    decodePicture(bytes, platform).then(
      () => 'read',
      (e: { code: string }) => e.code,
    );
  expect(await code(good.subarray(0, 700))).toBe('truncated');
  expect(await code(good.subarray(0, 19))).toBe('truncated');
  const wide = good.slice();
  wide[13] = 0xff;
  expect(await code(wide)).toBe('too-large');
  const mapped = fixture('tga/pillow-mapped.tga').slice();
  mapped.set([2, 0], 5); // a map of two colours only
  expect(await code(mapped)).toBe('corrupt');
});
