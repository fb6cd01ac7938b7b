import { readDdsLevels, SieveError, type Raster, type Samples } from '@lithe-sieve/core';
import { decode } from 'fast-png';

/**
 * A picture as a target reads it: PNG by a library that writes none of ours; DDS by core's reader, since no other of its
 * blocks is there.
 *
 * @returns The largest level first. @throws SieveError `corrupt`, `unsupported`.
 */
export function decodeReceived(bytes: Uint8Array, name: string): Promise<Raster<Samples>[]> {
  if (/\.dds$/i.test(name)) return Promise.resolve(readDdsLevels(bytes).levels);
  if (!/\.png$/i.test(name)) throw new SieveError('unsupported', `No target here reads ${name}.`);
  const { width, height, channels, data, depth } = decodePng(bytes, name);
  if (data instanceof Uint8ClampedArray || (depth !== 8 && depth !== 16)) {
    throw new SieveError('unsupported', `${name} has ${depth} bits, which no target here reads.`);
  }
  return Promise.resolve([{ width, height, channels: channels as Raster['channels'], data }]);
}

function decodePng(bytes: Uint8Array, name: string): ReturnType<typeof decode> {
  try {
    return decode(bytes);
  } catch (error) {
    throw new SieveError('corrupt', `${name} cannot be read: ${(error as Error).message}.`);
  }
}
