import decodeJpeg, { init as initJpeg } from '@jsquash/jpeg/decode.js';
import jpegWasm from '@jsquash/jpeg/codec/dec/mozjpeg_dec.wasm?url';
import decodeWebp, { init as initWebp } from '@jsquash/webp/decode.js';
import webpWasm from '@jsquash/webp/codec/dec/webp_dec.wasm?url';
import type { CodecPlatform } from '@lithe-sieve/core';
import { inflate } from './inflate';

type Init = (module: WebAssembly.Module, options: object) => Promise<void>;
/** What a decoder thinks of a damaged file is reported by its failure, not on the console. */
const QUIET = { printErr: () => undefined };

/** A decoder of WebAssembly whose module is fetched and compiled at its first picture. */
function codec(
  wasmUrl: string,
  init: unknown,
  decode: (file: ArrayBuffer) => Promise<ImageData>,
): CodecPlatform['decodeJpeg'] {
  let ready: Promise<void> | undefined;
  const start = async () => (init as Init)(await WebAssembly.compileStreaming(fetch(wasmUrl)), QUIET);
  return async (file) => {
    await (ready ??= start());
    try {
      const { width, height, data } = await decode(new Uint8Array(file).buffer);
      return { width, height, data: new Uint8Array(data.buffer) };
    } catch (error) {
      ready = undefined; // a damaged file may leave the module unusable: the next one gets a new module
      throw error;
    }
  };
}

/** Codec work on the browser's own zlib and the WebAssembly decoders, the same ones that the server runs. */
export const browserPlatform: CodecPlatform = {
  inflate,
  decodeJpeg: codec(jpegWasm, initJpeg, (file) => decodeJpeg(file, { preserveOrientation: true })),
  decodeWebp: codec(webpWasm, initWebp, decodeWebp),
};
