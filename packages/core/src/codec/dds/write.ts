import { allLevelBytes, type StoredLevel, type TextureFormat } from '../texture-format.ts';

/** DXGI numbers of colours in sRGB, and of values (DXGI_FORMAT, Microsoft Learn). */
const DXGI: Record<TextureFormat, { colour: number; values: number }> = {
  r8: { colour: 61, values: 61 },
  rgba8: { colour: 29, values: 28 },
  BC1: { colour: 72, values: 71 },
  BC3: { colour: 78, values: 77 },
  BC4: { colour: 80, values: 80 },
  BC5: { colour: 83, values: 83 },
  BC7: { colour: 99, values: 98 },
};
const HEAD = 148;
const MAGIC = 0x20534444; // 'DDS '
const DX10 = 0x30315844;
/** DDSD_CAPS, HEIGHT, WIDTH, PIXELFORMAT, MIPMAPCOUNT; and PITCH or LINEARSIZE. */
const FLAGS = 0x1 | 0x2 | 0x4 | 0x1000 | 0x20000;
const PITCH = 0x8;
const LINEAR_SIZE = 0x80000;
const HAS_FOURCC = 0x4;
/** DDSCAPS_COMPLEX, TEXTURE, MIPMAP. */
const CAPS = 0x8 | 0x1000 | 0x400000;
const TEXTURE_2D = 3;
const STRAIGHT_ALPHA = 1;

/** How large a DDS of all mip levels is. */
export const bytesOfDds = (format: TextureFormat, width: number, height: number) =>
  HEAD + allLevelBytes(format, width, height);

/**
 * A DDS with the DX10 header, which says whether it holds colour or values, and straight alpha ("Programming guide for
 * DDS", Microsoft Learn).
 *
 * @param levels - Level 0 first, each half the size of the one before, rounded down.
 */
export function writeDds(
  levels: readonly StoredLevel[],
  format: TextureFormat,
  holds: 'colour' | 'values',
): Uint8Array {
  const [{ width, height, data }] = levels;
  const isPlain = format === 'r8' || format === 'rgba8';
  const out = new Uint8Array(HEAD + levels.reduce((sum, level) => sum + level.data.length, 0));
  const view = new DataView(out.buffer);
  const words: [at: number, value: number][] = [
    [0, MAGIC],
    [4, 124], // of the header without the magic number
    [8, FLAGS | (isPlain ? PITCH : LINEAR_SIZE)],
    [12, height],
    [16, width],
    [20, isPlain ? data.length / height : data.length],
    [28, levels.length],
    [76, 32], // of the pixel format
    [80, HAS_FOURCC],
    [84, DX10],
    [108, CAPS],
    [128, DXGI[format][holds]],
    [132, TEXTURE_2D],
    [140, 1], // of an array
    [144, STRAIGHT_ALPHA],
  ];
  for (const [at, value] of words) view.setUint32(at, value, true);
  let at = HEAD;
  for (const level of levels) {
    out.set(level.data, at);
    at += level.data.length;
  }
  return out;
}
