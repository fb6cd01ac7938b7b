import { readdirSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { inflateSync } from 'node:zlib';
import { expect, test } from '@jest/globals';
import {
  decodePicture,
  declaredSize,
  describeSource,
  halvingsTo,
  inspectSource,
  sampleTexels,
  shrink,
  toRgba8,
  type CodecPlatform,
} from '../src/index.ts';
import { RowWidener } from '../src/raster/rows.ts';
import { fixture, platform } from './helpers/node-codecs.ts';

/** Gives what it inflates in parts of odd sizes, and counts the lines that were asked for as a whole. */
const inParts: CodecPlatform = {
  ...platform,
  inflateParts(parts, take) {
    const all = new Uint8Array(inflateSync(Buffer.concat(parts)));
    for (let at = 0, size = 1; at < all.length; at += size, size = (size * 7) % 101) {
      if (!take(all.subarray(at, at + size))) break;
    }
    return Promise.resolve();
  },
};
// PngSuite (W. van Schaik; copied for any purpose and without fee, see fixtures/pngsuite/README)
const FILES = readdirSync(fileURLToPath(new URL('./fixtures/pngsuite', import.meta.url))).filter(
  (f) => f.endsWith('.png') && !f.startsWith('x'),
);

test.each(FILES.map((file, i) => [file, [8, 16, 512][i % 3]] as const))(
  '%s: rows as they come say what the whole picture says',
  async (file, side) => {
    const bytes = fixture(`pngsuite/${file}`);
    const decoded = await decodePicture(bytes, platform);
    const whole = toRgba8(decoded.raster);
    const { facts, proxy } = await inspectSource(bytes, inParts, side, 0);
    expect(facts).toEqual(describeSource(decoded));
    const small = (as: 'colour' | 'data') => shrink(whole, halvingsTo(side, whole), as);
    const samples = sampleTexels(whole, halvingsTo(side, whole));
    expect(proxy).toEqual({ picture: small('colour'), data: small('data'), samples });
    const { width, height } = decoded.raster;
    expect(declaredSize(bytes)).toMatchObject({ width, height, byRows: bytes[28] === 0 }); // IHDR: interlace
  },
);

test('every 16-bit sample becomes the nearest of 8 bits, as in the whole picture', () => {
  const data = new Uint16Array(65536).map((_, v) => v);
  const rows = new Uint8Array(new RowWidener(16384, 4).widen(data).buffer);
  expect(Buffer.compare(rows, toRgba8({ width: 16384, height: 1, channels: 4, data }).data)).toBe(0);
});
