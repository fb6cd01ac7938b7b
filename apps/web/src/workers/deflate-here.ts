import type { Deflate } from '@lithe-sieve/core';
import { zlibSync } from 'fflate';

/** For pictures that are made here; those that are handed off are written on the server. */
export const deflateHere: Deflate = (strips) => Promise.resolve(zlibSync(joined(strips), { level: 4 }));

function joined(strips: Iterable<Uint8Array>): Uint8Array {
  const all = [...strips];
  const out = new Uint8Array(all.reduce((sum, s) => sum + s.length, 0));
  let at = 0;
  for (const strip of all) {
    out.set(strip, at);
    at += strip.length;
  }
  return out;
}
