import { readPng, toRgba8 } from '@lithe-sieve/core';
import type { Thumb } from '../../workers/types';
import { inflate } from '../../workers/inflate';

/** The texels of a PNG, with straight alpha: a canvas would lose colour under alpha 0. */
export async function pixelsOf(png: Blob): Promise<Thumb> {
  const bytes = new Uint8Array(await png.arrayBuffer());
  const { width, height, data } = toRgba8((await readPng(bytes, { inflate })).raster);
  return { width, height, rgba: new Uint8ClampedArray(data) };
}

/** White where two pictures of one size differ; null where their sizes do. */
export function differenceOf(a: Thumb, b: Thumb): { thumb: Thumb; texels: number; largest: number } | null {
  if (a.width !== b.width || a.height !== b.height) return null;
  const rgba = new Uint8ClampedArray(a.rgba.length);
  let [texels, largest] = [0, 0];
  for (let i = 0; i < rgba.length; i += 4) {
    let most = 0;
    for (let k = i; k < i + 4; k++) most = Math.max(most, Math.abs(a.rgba[k] - b.rgba[k]));
    if (most > 0) texels++;
    largest = Math.max(largest, most);
    const light = most === 0 ? 24 : Math.min(255, 96 + 8 * most); // one step must be seen
    rgba.fill(light, i, i + 3);
    rgba[i + 3] = 255;
  }
  return { thumb: { width: a.width, height: a.height, rgba }, texels, largest };
}
