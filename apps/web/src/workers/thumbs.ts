import type { Mask, Picture } from '@lithe-sieve/core';
import type { Thumb } from './types';

const SIDE = 128;
const GRID = 2;

/** The mask after a step, small. */
export function maskThumb(mask: Mask): Thumb {
  return sampled(mask, (i) => {
    const alpha = mask.data[i];
    return [alpha, alpha, alpha, 255];
  });
}

/** The colour after a step, small, alpha left aside. */
export function colourThumb({ width, height, data }: Picture): Thumb {
  return sampled({ width, height }, (i) => [data[4 * i], data[4 * i + 1], data[4 * i + 2], 255]);
}

function sampled(
  { width, height }: { width: number; height: number },
  read: (texel: number) => [number, number, number, number],
): Thumb {
  const scale = Math.min(1, SIDE / Math.max(width, height));
  const w = Math.max(1, Math.round(width * scale));
  const h = Math.max(1, Math.round(height * scale));
  const rgba = new Uint8ClampedArray(w * h * 4);
  for (let y = 0, o = 0; y < h; y++) {
    for (let x = 0; x < w; x++, o += 4) {
      for (let j = 0; j < GRID; j++) {
        const row = Math.floor(((y + (j + 0.5) / GRID) * height) / h) * width;
        for (let i = 0; i < GRID; i++) {
          const texel = read(row + Math.floor(((x + (i + 0.5) / GRID) * width) / w));
          for (let c = 0; c < 4; c++) rgba[o + c] += texel[c] / (GRID * GRID);
        }
      }
    }
  }
  return { width: w, height: h, rgba };
}
