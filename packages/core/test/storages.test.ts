import { describe, expect, test } from '@jest/globals';
import { decodeBlocks, encodeBlocks, makePicture, STORAGE_NAMES, storageFigures } from '../src/index.ts';
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
    for (const storage of STORAGE_NAMES) {
      const figures = storageFigures(colour, mask, storage, { ...options, exact: true });
      expect([storage, figures.flips, figures.texels.length]).toEqual([storage, 0, 0]);
    }
    const kept = storageFigures(colour, mask, 'rgba8', { ...options, exact: true });
    expect(kept).toMatchObject({ bytes: 4 * side * side, alphaError: 0, colourError: 0 });
    expect(storageFigures(colour, mask, 'mask8', { ...options, exact: false })).toMatchObject({ bytes: side * side });
    expect(storageFigures(colour, mask, 'mask1', { ...options, exact: true }).bytes).toBe((side * side) / 8);
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

  test('one bit clips where the encoder puts it: at the cutoff, or at one half', () => {
    const noise = noiseMask(5, side, side);
    const at = { cutoff: 0.8, opacity: 1, threshold: 204 };
    expect(storageFigures(colour, noise, 'mask1', { ...at, exact: true }).flips).toBe(0);
    const between = noise.data.filter((v) => v >= 128 && v < 204).length;
    expect(storageFigures(colour, noise, 'mask1', { ...at, exact: false }).flips).toBe(between);
  });
});
