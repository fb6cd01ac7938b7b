import { readDdsLevels, SieveError, type Raster, type Samples } from '@lithe-sieve/core';
import { decode } from 'fast-png';
import TgaLoader from 'tga-js';
import utif from 'utif2';

/**
 * A picture as a target reads it: PNG, TGA and TIFF by libraries that write none of ours; DDS by core's reader, since no other of its
 * blocks is there.
 *
 * @returns The largest level first. @throws SieveError `corrupt`, `unsupported`.
 */
export function decodeReceived(bytes: Uint8Array, name: string): Promise<Raster<Samples>[]> {
  if (/\.dds$/i.test(name)) return Promise.resolve(readDdsLevels(bytes).levels);
  if (/\.tga$/i.test(name)) return Promise.resolve([readTgaAsTarget(bytes, name)]);
  if (/\.tiff?$/i.test(name)) return Promise.resolve([readTiffAsTarget(bytes, name)]);
  if (!/\.png$/i.test(name)) throw new SieveError('unsupported', `No target here reads ${name}.`);
  const { width, height, channels, data, depth } = inWords(name, () => decode(bytes));
  if (data instanceof Uint8ClampedArray || (depth !== 8 && depth !== 16)) {
    throw new SieveError('unsupported', `${name} has ${depth} bits, which no target here reads.`);
  }
  return Promise.resolve([{ width, height, channels: channels as Raster['channels'], data }]);
}

/** All of it comes as RGBA; what the header says of alpha decides whether there is any (TGA 2.0, field 5.6). */
function readTgaAsTarget(bytes: Uint8Array, name: string): Raster {
  const loader = new TgaLoader();
  return inWords(name, () => {
    loader.load(bytes);
    const { width, height, pixelDepth, flags } = loader.header;
    const data = new Uint8ClampedArray(4 * width * height);
    loader.getImageData({ width, height, data });
    const rgba = new Uint8Array(data.buffer);
    if (pixelDepth === 32 && (flags & 15) > 0) return { width, height, channels: 4, data: rgba };
    const channels = pixelDepth === 8 ? 1 : 3;
    const out = new Uint8Array(channels * width * height);
    for (let i = 0, o = 0; o < out.length; i += 4, o += channels) {
      for (let k = 0; k < channels; k++) out[o + k] = rgba[i + k];
    }
    return { width, height, channels, data: out };
  });
}

function readTiffAsTarget(bytes: Uint8Array, name: string): Raster<Samples> {
  return inWords(name, () => {
    const file = bytes.slice().buffer;
    const [first] = utif.decode(file);
    utif.decodeImage(file, first);
    const { width, height, data, t258, t277 } = first as typeof first & { t258: number[]; t277?: number[] };
    const channels = (t277?.[0] ?? 1) as Raster['channels'];
    const length = channels * width * height;
    if (t258[0] === 8) return { width, height, channels, data: data.subarray(0, length) };
    return { width, height, channels, data: new Uint16Array(data.slice(0, 2 * length).buffer) };
  });
}

function inWords<R>(name: string, read: () => R): R {
  try {
    return read();
  } catch (error) {
    throw new SieveError('corrupt', `${name} cannot be read: ${(error as Error).message}.`);
  }
}
