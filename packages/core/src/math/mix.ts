/** The finaliser of MurmurHash3 (A. Appleby, public domain): neighbours get unlike bits. @returns 32 bits, unsigned. */
export function mix32(h: number): number {
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return (h ^ (h >>> 16)) >>> 0;
}
