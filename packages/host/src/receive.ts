import { inflateSync } from 'node:zlib';
import {
  decodeBlocks,
  readDdsLevels,
  readWebp,
  SieveError,
  type BlockFormat,
  type Raster,
  type Samples,
} from '@lithe-sieve/core';
import { decode } from 'fast-png';
import { read as readKtx2Container } from 'ktx-parse';
import TgaLoader from 'tga-js';
import utif from 'utif2';
import { nodePlatform } from './node-platform.ts';

/**
 * A picture as a target reads it: PNG, TGA, TIFF and the container of KTX2 by libraries that write none of ours; WebP by the decoder that
 * reads all of them; DDS and blocks by core's reader, since no other is there.
 *
 * @returns The largest level first. @throws SieveError `corrupt`, `unsupported`.
 */
export function decodeReceived(bytes: Uint8Array, name: string): Promise<Raster<Samples>[]> {
  if (/\.dds$/i.test(name)) return Promise.resolve(readDdsLevels(bytes).levels);
  if (/\.ktx2$/i.test(name)) return Promise.resolve(readKtx2AsTarget(bytes, name));
  if (/\.webp$/i.test(name)) return readWebp(bytes, nodePlatform).then(({ raster }) => [raster]);
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

/** Numbers of Vulkan (VkFormat): of values, and of colours in sRGB. */
const VK_FORMATS: Record<number, 'r8' | 'rgba8' | BlockFormat> = {
  ...{ 9: 'r8', 15: 'r8', 37: 'rgba8', 43: 'rgba8', 133: 'BC1', 134: 'BC1', 137: 'BC3', 138: 'BC3' },
  ...{ 139: 'BC4', 141: 'BC5', 145: 'BC7', 146: 'BC7' },
};
const ZLIB = 3;

/** Its reader looks beyond a part of a buffer. */
const wholeBuffer = (bytes: Uint8Array) => (bytes.byteLength === bytes.buffer.byteLength ? bytes : bytes.slice());

/** What its descriptor says of alpha and of the model must be what its number says. */
function readKtx2AsTarget(bytes: Uint8Array, name: string): Raster[] {
  const file = inWords(name, () => readKtx2Container(wholeBuffer(bytes)));
  const format = VK_FORMATS[file.vkFormat];
  if (!format)
    throw new SieveError('unsupported', `${name} is of VkFormat ${file.vkFormat}, which no target here reads.`);
  const [{ colorModel, flags }] = file.dataFormatDescriptor;
  const model = { r8: 1, rgba8: 1, BC1: 128, BC3: 130, BC4: 131, BC5: 132, BC7: 134 }[format];
  if (colorModel !== model || flags !== 0) {
    throw new SieveError(
      'corrupt',
      `The descriptor of ${name} says another model than its number, or premultiplied alpha.`,
    );
  }
  return file.levels.map(({ levelData, uncompressedByteLength }, i) => {
    const [width, height] = [file.pixelWidth, file.pixelHeight].map((side) => Math.max(1, side >> i));
    const data = file.supercompressionScheme === ZLIB
      ? inWords(name, () => new Uint8Array(inflateSync(levelData, { maxOutputLength: uncompressedByteLength })))
      : levelData; // prettier-ignore
    if (format === 'r8' || format === 'rgba8') return { width, height, channels: format === 'r8' ? 1 : 4, data };
    return decodeBlocks({ format, width, height, data });
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
