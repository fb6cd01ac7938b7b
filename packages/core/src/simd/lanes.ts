import type { Samples } from '../raster/raster.ts';
import { BYTE_TABLE, bytesIn, kernels, LIGHT_TABLE, wordsIn, type Address, type Slot } from './simd.ts';

/** How texels of a raster become floats in the kernels' memory, and floats texels: colour as linear light. */
export interface Lanes {
  /** Brings samples, from the given one on, to floats. */
  read(firstSample: number, texels: number, to: Address): void;
  /** Brings floats to the samples of another raster of the same kind. */
  write(from: Address, texels: number, out: Samples, firstSample: number): void;
}

/** Floats of a texel: 1, or 4 of which the last is empty where a texel has three samples. */
export const lanesOfTexel = (channels: number): 1 | 4 => (channels === 1 ? 1 : 4);

/**
 * @param staging - Room for the longest row of either raster.
 * @throws {Error} for other than one, three or four samples a texel.
 */
export function lanesFor(data: Samples, channels: number, staging: Slot): Lanes {
  const own = data instanceof Uint8Array ? bytesIn(staging) : wordsIn(staging);
  const stage = (first: number, count: number) => own.set(data.subarray(first, first + count));
  const unstage = (count: number, out: Samples, first: number) => out.set(own.subarray(0, count), first);
  const kernel = kernels();
  const { at } = staging;
  const wide = data instanceof Uint16Array;
  if (channels === 4 && !wide) {
    return {
      read(first, texels, to) {
        stage(first, 4 * texels);
        kernel.lightOfBytes(at, to, texels, LIGHT_TABLE);
      },
      write(from, texels, out, first) {
        kernel.bytesOfLight(from, at, texels, BYTE_TABLE);
        unstage(4 * texels, out, first);
      },
    };
  }
  if (channels === 1) {
    const toFloats = wide ? kernel.floatsOfWords : kernel.floatsOfBytes;
    const toSamples = wide ? kernel.wordsOfFloats : kernel.bytesOfFloats;
    return {
      read(first, texels, to) {
        stage(first, texels);
        toFloats(at, to, texels);
      },
      write(from, texels, out, first) {
        toSamples(from, at, texels);
        unstage(texels, out, first);
      },
    };
  }
  if (channels === 3 && wide) {
    return {
      read(first, texels, to) {
        stage(first, 3 * texels);
        kernel.floatsOfTriples(at, to, texels);
      },
      write(from, texels, out, first) {
        kernel.triplesOfFloats(from, at, texels);
        unstage(3 * texels, out, first);
      },
    };
  }
  throw new Error(`Texels of ${channels} samples of ${wide ? 16 : 8} bits cannot be scaled.`);
}
