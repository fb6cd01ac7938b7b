import decode, { init } from '@jsquash/jpeg/decode.js';
import wasmUrl from '@jsquash/jpeg/codec/dec/mozjpeg_dec.wasm?url';
import type { CodecPlatform } from '@lithe-sieve/core';

/** Codec work on the browser's own zlib and the WebAssembly JPEG decoder, the same one that the server runs. */
export const browserPlatform: CodecPlatform = { inflate, decodeJpeg };

async function inflate(parts: Uint8Array[], expected: number): Promise<Uint8Array> {
  const out = new Uint8Array(expected);
  const stream = new DecompressionStream('deflate');
  const writer = stream.writable.getWriter();
  const feeding = (async () => {
    for (const part of parts) await writer.write(part as Uint8Array<ArrayBuffer>);
    await writer.close();
  })();
  feeding.catch(() => undefined); // the reader reports it
  const reader = stream.readable.getReader();
  let at = 0;
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return out.subarray(0, at);
    const room = Math.min(value.length, expected - at);
    out.set(room < value.length ? value.subarray(0, room) : value, at);
    at += room;
    if (room < value.length) {
      void reader.cancel();
      return out;
    }
  }
}

let jpegReady: Promise<void> | undefined;

async function startJpeg(): Promise<void> {
  const compiled = await WebAssembly.compileStreaming(fetch(wasmUrl));
  await (init as (module: WebAssembly.Module) => Promise<void>)(compiled);
}

async function decodeJpeg(bytes: Uint8Array): Promise<{ width: number; height: number; data: Uint8Array }> {
  await (jpegReady ??= startJpeg());
  const image = await decode(new Uint8Array(bytes).buffer, { preserveOrientation: true });
  return { width: image.width, height: image.height, data: new Uint8Array(image.data.buffer) };
}
