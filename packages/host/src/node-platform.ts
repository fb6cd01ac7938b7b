import { promisify } from 'node:util';
import { constants, createInflate, deflateRaw, inflateSync } from 'node:zlib';
import { createRequire } from 'node:module';
import { readFile } from 'node:fs/promises';
import decodeJpeg, { init as initJpeg } from '@jsquash/jpeg/decode.js';
import decodeWebp, { init as initWebp } from '@jsquash/webp/decode.js';
import type { CodecPlatform } from '@lithe-sieve/core';

const require = createRequire(import.meta.url);
const deflateStrip = promisify(deflateRaw);

/** In one call where the stream is as long as it should be: a third faster than a stream. What is not goes the long way. */
function inflate(parts: Uint8Array[], expected: number): Promise<Uint8Array> {
  try {
    const whole = parts.length === 1 ? parts[0] : Buffer.concat(parts);
    const out = inflateSync(whole, { maxOutputLength: expected, chunkSize: 1 << 20 });
    return Promise.resolve(new Uint8Array(out.buffer, out.byteOffset, out.byteLength));
  } catch {
    return inflateAsStream(parts, expected);
  }
}

/** Stops at `expected` bytes; a stream that ends early gives what there was. */
function inflateAsStream(parts: Uint8Array[], expected: number): Promise<Uint8Array> {
  const out = new Uint8Array(expected);
  let at = 0;
  const stream = createInflate({ chunkSize: 1 << 18 });
  return new Promise((resolve, reject) => {
    stream.on('data', (chunk: Buffer) => {
      const room = Math.min(chunk.length, expected - at);
      out.set(room < chunk.length ? chunk.subarray(0, room) : chunk, at);
      at += room;
      if (chunk.length > room) {
        stream.destroy(); // more than the header promised: no need to see it
        resolve(out);
      }
    });
    stream.on('end', () => resolve(out.subarray(0, at)));
    stream.on('error', (error: NodeJS.ErrnoException) => {
      if (error.code === 'Z_BUF_ERROR')
        resolve(out.subarray(0, at)); // ended early
      else reject(error);
    });
    for (const part of parts) stream.write(part);
    stream.end();
  });
}

/** A part of a megabyte at a time; ends as soon as no more is wanted. */
function inflateParts(parts: Uint8Array[], take: (part: Uint8Array) => boolean): Promise<void> {
  const stream = createInflate({ chunkSize: 1 << 20 });
  return new Promise((resolve, reject) => {
    const end = (error?: Error) => {
      stream.destroy();
      if (error) reject(error);
      else resolve();
    };
    stream.on('data', (chunk: Buffer) => {
      try {
        if (!take(chunk)) end();
      } catch (error) {
        end(error as Error);
      }
    });
    stream.on('end', () => resolve());
    stream.on('error', (error: NodeJS.ErrnoException) => end(error.code === 'Z_BUF_ERROR' ? undefined : error));
    for (const part of parts) stream.write(part);
    stream.end();
  });
}

const WINDOW = 32768;
const LEVEL = 4;

/**
 * One zlib stream, deflated in strips at the same time on the thread pool. Each strip starts from the 32 KiB before it
 * as dictionary and ends on a byte boundary (sync flush), so that the strips join to one stream (RFC 1951).
 */
export async function deflateInStrips(strips: Iterable<Uint8Array>): Promise<Uint8Array> {
  const checksum = new Adler32();
  const deflated: Promise<Uint8Array>[] = [];
  let before: Uint8Array | undefined;
  for (const strip of strips) {
    deflated.push(deflateStrip(strip, { ...STRIP, dictionary: before }));
    checksum.add(strip);
    before = strip.subarray(Math.max(0, strip.length - WINDOW));
  }
  const header = Uint8Array.of(0x78, 0x5e);
  const end = new Uint8Array(await deflateStrip(new Uint8Array(0), { level: LEVEL }));
  return Buffer.concat([header, ...(await Promise.all(deflated)), end, checksum.bytes()]);
}

const STRIP = { level: LEVEL, finishFlush: constants.Z_SYNC_FLUSH };

/** RFC 1950 §8.2; sums are reduced before they leave 31 bits, where integers end being fast. */
class Adler32 {
  #a = 1;
  #b = 0;

  add(data: Uint8Array): void {
    let a = this.#a;
    let b = this.#b;
    for (let i = 0; i < data.length;) {
      const end = Math.min(data.length, i + 2600);
      for (; i < end; i++) {
        a += data[i];
        b += a;
      }
      a %= 65521;
      b %= 65521;
    }
    this.#a = a;
    this.#b = b;
  }

  bytes(): Uint8Array {
    return Uint8Array.of(this.#b >> 8, this.#b, this.#a >> 8, this.#a);
  }
}

interface DecodedImage {
  data: Uint8ClampedArray;
  width: number;
  height: number;
}

type Init = (module: WebAssembly.Module, options: object) => Promise<void>;
/** Above this, a decoder's module is thrown away after the picture: its memory grows and never shrinks. */
const LARGE_BYTES = 64 * 1024 * 1024;
type Decode = (file: ArrayBuffer) => Promise<DecodedImage>;

/** A decoder of WebAssembly whose module is compiled at its first picture. */
function codec(wasm: string, init: unknown, decode: Decode): CodecPlatform['decodeJpeg'] {
  let ready: Promise<void> | undefined;
  let complaint: string | undefined;
  const quiet = { printErr: (text: string) => void (complaint ??= text) }; // said with the picture, not on the console
  const start = async () => {
    // the decoder makes an ImageData, which Node does not have
    const scope = globalThis as { ImageData?: unknown };
    scope.ImageData ??= class {
      constructor(
        readonly data: Uint8ClampedArray,
        readonly width: number,
        readonly height: number,
      ) {}
    };
    const bytes = await readFile(require.resolve(wasm));
    await (init as Init)(await WebAssembly.compile(new Uint8Array(bytes)), quiet);
  };
  return async (file) => {
    await (ready ??= start());
    complaint = undefined;
    try {
      const { width, height, data } = await decode(new Uint8Array(file).buffer);
      if (data.length > LARGE_BYTES) ready = undefined;
      return { width, height, data: new Uint8Array(data.buffer, data.byteOffset, data.byteLength), complaint };
    } catch (error) {
      ready = undefined; // a damaged file may leave the module unusable: the next one gets a new module
      throw error;
    }
  };
}

/** Codec work on Node's own zlib and the WebAssembly decoders, the same ones that the browser runs. */
export const nodePlatform: CodecPlatform = {
  inflate,
  inflateParts,
  decodeJpeg: codec('@jsquash/jpeg/codec/dec/mozjpeg_dec.wasm', initJpeg, (file) =>
    decodeJpeg(file, { preserveOrientation: true }),
  ),
  decodeWebp: codec('@jsquash/webp/codec/dec/webp_dec.wasm', initWebp, decodeWebp as Decode),
};
