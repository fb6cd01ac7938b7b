import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { inflateSync } from 'node:zlib';
import sharp from 'sharp';
import { readPng, toRgba8, type Picture } from '@lithe-sieve/core';
import { drawLeafScan } from '@lithe-sieve/demo';

export const SIDE = 4096;

/** A 4096² scan as a PNG of RGBA (the leaf, its exact mask as alpha), drawn once, written by another library as most files are
 * (adaptive filters), and kept in the temporary folder. */
export async function bigScan(): Promise<{ path: string; bytes: Uint8Array; picture: Picture }> {
  const folder = join(tmpdir(), 'lithe-sieve-bench');
  const path = join(folder, `leaf-${SIDE}.png`);
  if (!existsSync(path)) {
    mkdirSync(folder, { recursive: true });
    const { colour, mask } = drawLeafScan(7, SIDE);
    const rgba = toRgba8(colour).data;
    mask.data.forEach((alpha, i) => (rgba[4 * i + 3] = alpha));
    const raw = { raw: { width: SIDE, height: SIDE, channels: 4 as const } };
    writeFileSync(path, await sharp(rgba, raw).png({ compressionLevel: 6, adaptiveFiltering: true }).toBuffer());
  }
  const bytes = new Uint8Array(readFileSync(path));
  const inflate = (parts: Uint8Array[]) => Promise.resolve(new Uint8Array(inflateSync(Buffer.concat(parts))));
  return { path, bytes, picture: toRgba8((await readPng(bytes, { inflate })).raster) };
}
