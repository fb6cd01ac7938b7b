import sharp from 'sharp';
import type { Chance } from './trial.ts';

/** A small picture of noise, other for each call. */
export async function noisePng(chance: Chance, side = 32): Promise<Buffer> {
  const data = Buffer.alloc(side * side * 4).map(() => chance.below(256));
  return sharp(data, { raw: { width: side, height: side, channels: 4 } })
    .png()
    .toBuffer();
}
