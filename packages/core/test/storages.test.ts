import { describe, expect, test } from '@jest/globals';
import {
  colourMips,
  decodeBlocks,
  distanceField,
  encodeBlocks,
  makeMask,
  makePicture,
  maskMips,
  STORAGE_NAMES,
  storageFigures,
  STORAGES,
  storedLevels,
  thresholdByte,
} from '../src/testing.ts';
import { noiseMask } from './helpers/pictures.ts';
import { drawShape, hair } from './helpers/webs.ts';

describe('ways to store a piece', () => {
  const side = 64;
  const mask = drawShape(hair(3, side, 8), side, side);
  const colour = makePicture(
    side,
    side,
    Uint8Array.from({ length: side * side * 4 }, (_, i) => (i * 37) % 251),
  );
  const options = { cutoff: 0.5, opacity: 1, threshold: 128 };

  test('ours turn no texel; uncompressed ones change nothing', () => {
    for (const storage of STORAGE_NAMES.filter((name) => !name.startsWith('field'))) {
      const figures = storageFigures(colour, mask, storage, { ...options, exact: true });
      expect([storage, figures.flips, figures.texels.length]).toEqual([storage, 0, 0]);
    }
    const kept = storageFigures(colour, mask, 'rgba8', { ...options, exact: true });
    expect(kept).toMatchObject({ bytes: 4 * side * side, alphaError: 0, colourError: 0 });
    expect(storageFigures(colour, mask, 'mask8', { ...options, exact: false })).toMatchObject({ bytes: side * side });
    expect(storageFigures(colour, mask, 'mask1', { ...options, exact: true }).bytes).toBe((side * side) / 8);
  });

  test('the effort of the hand-off counts for ours alone', () => {
    const error = (exact: boolean, effort?: 'fine') =>
      storageFigures(colour, mask, 'BC1', { ...options, exact, effort }).colourError!;
    expect(error(true, 'fine')).toBeLessThan(error(true));
    expect(error(false, 'fine')).toBe(error(false));
  });

  test('the texels that a plain encoder turns are those that read back on the other side', () => {
    const { data } = decodeBlocks(encodeBlocks(mask, { format: 'BC4' }));
    const turned = [...mask.data.keys()].filter((i) => mask.data[i] >= 128 !== data[i] >= 128);
    const figures = storageFigures(colour, mask, 'BC4', { ...options, exact: false });
    expect(turned.length).toBeGreaterThan(0);
    expect(Array.from(figures.texels)).toEqual(turned);
    const squares = mask.data.reduce((sum, v, i) => sum + (v - data[i]) ** 2, 0);
    expect(figures.alphaError).toBeCloseTo(Math.sqrt(squares / mask.data.length), 10);
    expect(figures.colourError).toBeNull();
  });

  test('distances stored at ½, ¼ and ⅛ keep an outline far better than alpha of that size (Green 2007)', () => {
    const big = 256;
    const disc = makeMask(
      big,
      big,
      Uint8Array.from({ length: big * big }, (_, i) =>
        ((i % big) - 127.3) ** 2 + (Math.floor(i / big) - 120.7) ** 2 < 90 ** 2 ? 255 : 0,
      ),
    );
    const empty = makePicture(big, big, new Uint8Array(4 * big * big));
    const outline = 2 * Math.PI * 90;
    for (const [storage, divisor] of [
      ['field2', 2],
      ['field4', 4],
      ['field8', 8],
    ] as const) {
      const [field, alpha] = [true, false].map((exact) => storageFigures(empty, disc, storage, { ...options, exact }));
      expect(field).toMatchObject({ bytes: (big / divisor) ** 2, alphaError: null, colourError: null });
      expect(field.flips).toBeLessThan(0.07 * outline); // of a texel along it
      expect(alpha.bytes).toBe(field.bytes);
      expect(alpha.flips).toBeGreaterThanOrEqual(field.flips);
    }
    // far from the outline all or nothing, and on it one half: linear in the distance between, over two texels of the field
    const half = distanceField(
      makeMask(
        64,
        64,
        new Uint8Array(4096).map((_, i) => (i % 64 < 32 ? 255 : 0)),
      ),
      128,
      4,
    );
    expect([...half.data.subarray(16 * 4, 16 * 5)]).toEqual([
      255, 255, 255, 255, 255, 255, 223, 159, 96, 32, 0, 0, 0, 0, 0, 0,
    ]);
  });

  test.each(STORAGE_NAMES)('%s: every level read back clips as each does by itself', (storage) => {
    const levels = [mask, ...maskMips(mask)];
    const colours = [colour, ...colourMips(colour)];
    const read = storedLevels(colours, levels, storage, { ...options, exact: true });
    expect(read.mask.map((l) => [l.width, l.height])).toEqual(levels.map((l) => [l.width, l.height]));
    expect(read.colour === null).toBe(STORAGES[storage].holds === 'mask');
    const at = read.cutoff === null ? 128 : thresholdByte(read.cutoff);
    const off = levels.map(({ data }, i) => data.filter((v, t) => v >= 128 !== read.mask[i].data[t] >= at).length);
    expect(off[0]).toBe(storageFigures(colour, mask, storage, { ...options, exact: true }).flips);
    if (!storage.startsWith('field')) expect(off.every((n) => n === 0)).toBe(true);
  });

  test('one bit clips where the encoder puts it: at the cutoff, or at one half', () => {
    const noise = noiseMask(5, side, side);
    const at = { cutoff: 0.8, opacity: 1, threshold: 204 };
    expect(storageFigures(colour, noise, 'mask1', { ...at, exact: true }).flips).toBe(0);
    const between = noise.data.filter((v) => v >= 128 && v < 204).length;
    expect(storageFigures(colour, noise, 'mask1', { ...at, exact: false }).flips).toBe(between);
  });
});
