/** CRC-32 of PNG (3rd edition, Annex D; polynomial 0xedb88320), four bytes a turn. */
const TABLES = makeTables();

function makeTables(): Int32Array[] {
  const tables = Array.from({ length: 4 }, () => new Int32Array(256));
  for (let n = 0; n < 256; n++) {
    let c = n;
    for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
    tables[0][n] = c;
  }
  for (let t = 1; t < 4; t++) {
    for (let n = 0; n < 256; n++) {
      const below = tables[t - 1][n];
      tables[t][n] = tables[0][below & 255] ^ (below >>> 8);
    }
  }
  return tables;
}

/** CRC of `bytes[from, to)`, unsigned. */
export function crc32(bytes: Uint8Array, from = 0, to = bytes.length): number {
  const [t0, t1, t2, t3] = TABLES;
  let c = -1;
  let i = from;
  for (; i + 4 <= to; i += 4) {
    c ^= bytes[i] | (bytes[i + 1] << 8) | (bytes[i + 2] << 16) | (bytes[i + 3] << 24);
    c = t3[c & 255] ^ t2[(c >>> 8) & 255] ^ t1[(c >>> 16) & 255] ^ t0[c >>> 24];
  }
  for (; i < to; i++) c = t0[(c ^ bytes[i]) & 255] ^ (c >>> 8);
  return ~c >>> 0;
}
