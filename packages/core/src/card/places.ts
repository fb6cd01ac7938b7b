import { mix32 } from '../math/mix.ts';

/** Vertices that lie at one place, by the number of that place. */
export interface Places {
  /** Of each vertex. */
  of: Uint32Array;
  count: number;
}

/** Numbers the places of vertices; those at the same one have the same number. @param positions - x, y, z each. */
export function placesOf(positions: Float32Array): Places {
  const vertices = positions.length / 3;
  const of = new Uint32Array(vertices);
  // open addressing, at most half full: a table of strings takes ten times as long
  const size = 2 ** Math.ceil(Math.log2(2 * vertices + 2));
  const table = new Int32Array(size).fill(-1);
  const firsts = new Uint32Array(vertices);
  const clean = positions.map((v) => v + 0); // -0 is 0
  const bits = new Uint32Array(clean.buffer, clean.byteOffset, clean.length);
  let count = 0;
  for (let i = 0; i < vertices; i++) {
    const [a, b, c] = [bits[3 * i], bits[3 * i + 1], bits[3 * i + 2]];
    let slot = mix32(a ^ mix32(b ^ mix32(c))) & (size - 1);
    for (;;) {
      const found = table[slot];
      if (found < 0) {
        table[slot] = count;
        firsts[count] = i;
        of[i] = count++;
        break;
      }
      const k = 3 * firsts[found];
      if (bits[k] === a && bits[k + 1] === b && bits[k + 2] === c) {
        of[i] = found;
        break;
      }
      slot = (slot + 1) & (size - 1);
    }
  }
  return { of, count };
}
