import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import encode, { init } from '@jsquash/webp/encode.js';
import { SieveError, toEightBits, toRgba8, type Raster, type Samples } from '@lithe-sieve/core';

/** As RFC 9649 has it, 14 bits. */
const LONGEST_SIDE = 16383;
/** Lossless, colour under alpha 0 as it is; the quickest of seven efforts: the slowest takes a minute at 4096². */
const LOSSLESS = { lossless: 1, exact: 1, method: 0, quality: 0 };

type Init = (module: WebAssembly.Module) => Promise<unknown>;
let ready: Promise<void> | undefined;

async function start(): Promise<void> {
  const bytes = await readFile(createRequire(import.meta.url).resolve('@jsquash/webp/codec/enc/webp_enc_simd.wasm'));
  await (init as unknown as Init)(await WebAssembly.compile(new Uint8Array(bytes)));
}

/** A lossless WebP, straight alpha; grey as three equal channels. @throws SieveError `too-large` beyond 16,383 texels a side. */
export async function writeWebp(raster: Raster<Samples>): Promise<Uint8Array> {
  const { width, height } = raster;
  if (Math.max(width, height) > LONGEST_SIDE) {
    throw new SieveError('too-large', `A WebP has at most ${LONGEST_SIDE} texels a side.`, 'Write it as a PNG.');
  }
  ready ??= start();
  await ready;
  const { data } = toRgba8({ ...raster, data: toEightBits(raster.data) });
  const picture = { width, height, data: new Uint8ClampedArray(data.buffer, data.byteOffset, data.byteLength) };
  return new Uint8Array(await encode(picture, LOSSLESS));
}
