/*
 * Blocks of 4 × 4 texels, Khronos Data Format Specification 1.3: S3TC (§18), RGTC (§19). Each decoder writes sixteen
 * texels of RGBA, row by row.
 */

type Block = Uint8Array;

function expand565(value: number, out: Uint8Array, at: number): void {
  const [r, g, b] = [(value >> 11) & 31, (value >> 5) & 63, value & 31];
  out[at] = (r << 3) | (r >> 2);
  out[at + 1] = (g << 2) | (g >> 4);
  out[at + 2] = (b << 3) | (b >> 2);
  out[at + 3] = 255;
}

const palette = new Uint8Array(16);

/** Two 16-bit colours and sixteen 2-bit indices; with `punch`, colour0 ≤ colour1 has a transparent black index. */
function colourBlock(block: Uint8Array, at: number, punch: boolean, out: Block): void {
  const c0 = block[at] | (block[at + 1] << 8);
  const c1 = block[at + 2] | (block[at + 3] << 8);
  expand565(c0, palette, 0);
  expand565(c1, palette, 4);
  const four = c0 > c1 || !punch;
  for (let c = 0; c < 3; c++) {
    const [a, b] = [palette[c], palette[4 + c]];
    palette[8 + c] = four ? (2 * a + b) / 3 : (a + b) / 2;
    palette[12 + c] = four ? (a + 2 * b) / 3 : 0;
  }
  palette[11] = 255;
  palette[15] = four ? 255 : 0;
  for (let i = 0; i < 16; i++) {
    const index = (block[at + 4 + (i >> 2)] >> (2 * (i & 3))) & 3;
    for (let c = 0; c < 4; c++) out[4 * i + c] = palette[4 * index + c];
  }
}

/** Two ends and sixteen 3-bit indices between them. */
function rampBlock(block: Uint8Array, at: number, out: Block, channel: number): void {
  const [a, b] = [block[at], block[at + 1]];
  const low = block[at + 2] | (block[at + 3] << 8) | (block[at + 4] << 16);
  const high = block[at + 5] | (block[at + 6] << 8) | (block[at + 7] << 16);
  for (let i = 0; i < 16; i++) {
    const index = ((i < 8 ? low : high) >> (3 * (i & 7))) & 7;
    out[4 * i + channel] = rampValue(a, b, index);
  }
}

function rampValue(a: number, b: number, index: number): number {
  if (index === 0) return a;
  if (index === 1) return b;
  if (a > b) return Math.floor(((8 - index) * a + (index - 1) * b) / 7 + 0.5);
  if (index === 6) return 0;
  return index === 7 ? 255 : Math.floor(((6 - index) * a + (index - 1) * b) / 5 + 0.5);
}

export function decodeBc1(block: Uint8Array, at: number, out: Block): void {
  colourBlock(block, at, true, out);
}

export function decodeBc2(block: Uint8Array, at: number, out: Block): void {
  colourBlock(block, at + 8, false, out);
  for (let i = 0; i < 16; i++) out[4 * i + 3] = ((block[at + (i >> 1)] >> (4 * (i & 1))) & 15) * 17;
}

export function decodeBc3(block: Uint8Array, at: number, out: Block): void {
  colourBlock(block, at + 8, false, out);
  rampBlock(block, at, out, 3);
}

/** One channel, spread to grey. */
export function decodeBc4(block: Uint8Array, at: number, out: Block): void {
  rampBlock(block, at, out, 0);
  for (let i = 0; i < 64; i += 4) {
    out[i + 1] = out[i + 2] = out[i];
    out[i + 3] = 255;
  }
}

/** Two channels, red and green. */
export function decodeBc5(block: Uint8Array, at: number, out: Block): void {
  rampBlock(block, at, out, 0);
  rampBlock(block, at + 8, out, 1);
  for (let i = 0; i < 64; i += 4) {
    out[i + 2] = 0;
    out[i + 3] = 255;
  }
}
