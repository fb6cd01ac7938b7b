import { decodePicture, toRgba8, type Picture } from '@lithe-sieve/core';
import { nodePlatform } from './node-platform.ts';
import type { TipFile } from './tasks.ts';

/** The pictures of brush tips, by the SHA-256 of their files. */
export async function decodeTips(files: readonly TipFile[]): Promise<Map<string, Picture>> {
  const out = new Map<string, Picture>();
  for (const { sha256, bytes } of files) {
    out.set(sha256, toRgba8((await decodePicture(bytes, nodePlatform)).raster));
  }
  return out;
}
