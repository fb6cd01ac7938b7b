import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { deflateSync, inflateSync } from 'node:zlib';
import type { CodecPlatform, Deflate } from '../../src/index.ts';

/** The simplest host there is: whole buffers through Node's zlib, and no JPEG. */
export const platform: CodecPlatform = {
  inflate: (parts, expected) =>
    new Promise((resolve) => resolve(new Uint8Array(inflateSync(Buffer.concat(parts))).subarray(0, expected))),
  decodeJpeg: () => Promise.reject(new Error('no JPEG decoder here')),
  decodeWebp: () => Promise.reject(new Error('no WebP decoder here')),
};

export const deflate: Deflate = (strips) => Promise.resolve(new Uint8Array(deflateSync(Buffer.concat([...strips]))));

export function fixture(path: string): Uint8Array {
  return new Uint8Array(readFileSync(fileURLToPath(new URL(`../fixtures/${path}`, import.meta.url))));
}

export function fixtureJson<T>(path: string): T {
  return JSON.parse(Buffer.from(fixture(path)).toString('utf8')) as T;
}
