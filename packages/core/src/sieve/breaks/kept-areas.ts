import type { Mask } from '../../raster/raster.ts';

/** Texels, and rows, between two looks for newer work. */
export const LOOK_EVERY = 1 << 20;
export const LOOK_ROWS = 128;

/** Which texels of a raster hold anything kept, and how many texels of level 0 these are. */
export interface KeptAreas {
  width: number;
  height: number;
  areas: Uint32Array;
}

/** @param look - Called all along; cancels by throwing. */
export function keptAreas({ width, height, data }: Mask, threshold: number, look: () => void): KeptAreas {
  const areas = new Uint32Array(data.length);
  for (let i = 0; i < data.length; i++) {
    if (i % LOOK_EVERY === 0) look();
    areas[i] = data[i] >= threshold ? 1 : 0;
  }
  return { width, height, areas };
}

/** Half the size, rounded down; what is over at the right and below counts to the last texel. */
export function halvedAreas({ width, height, areas }: KeptAreas, look: () => void): KeptAreas {
  const [w, h] = [Math.max(1, width >> 1), Math.max(1, height >> 1)];
  const out = new Uint32Array(w * h);
  for (let y = 0, i = 0; y < height; y++) {
    if (y % LOOK_ROWS === 0) look();
    const row = Math.min(h - 1, y >> 1) * w;
    for (let x = 0; x < width; x++, i++) out[row + Math.min(w - 1, x >> 1)] += areas[i];
  }
  return { width: w, height: h, areas: out };
}
