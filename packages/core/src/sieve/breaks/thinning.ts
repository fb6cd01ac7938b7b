import { LOOK_EVERY, LOOK_ROWS, type KeptAreas } from './kept-areas.ts';

/** A texel of a rim takes as long as several of a raster. */
const LOOK_RIM = LOOK_EVERY / 4;

/**
 * The lines of a silhouette: thinned until thin parts are one texel wide, connected as before. T. Y. Zhang, C. Y. Suen,
 * "A fast parallel algorithm for thinning digital patterns", CACM 27(3), 1984. Only so many rounds, each of which takes
 * one texel from every side: what is thicker than twice that keeps a solid core.
 *
 * @param look - Called all along; cancels by throwing. @returns (width + 2) × (height + 2) texels, 1 on a line; the rim is empty.
 */
export function linesOf({ width, height, areas }: KeptAreas, rounds: number, look: () => void): Uint8Array {
  const row = width + 2;
  const bits = new Uint8Array(row * (height + 2));
  for (let y = 0, i = 0; y < height; y++) {
    if (y % LOOK_ROWS === 0) look();
    for (let x = 0, o = (y + 1) * row + 1; x < width; x++, i++, o++) bits[o] = areas[i] > 0 ? 1 : 0;
  }
  const around = [-row, -row + 1, 1, row + 1, row, row - 1, -1, -row - 1]; // P2 … P9 of the paper, clockwise from above
  let rim = rimOf(bits, row, height, look);
  const queued = new Uint8Array(bits.length);
  for (let round = 0; round < rounds && rim.length > 0; round++) {
    const gone: number[] = [];
    for (const goes of GOES) {
      const first = gone.length;
      for (let n = 0; n < rim.length; n++) {
        const at = rim[n];
        if (n % LOOK_RIM === 0) look();
        if (bits[at] === 0) continue;
        let code = 0;
        for (let k = 0; k < 8; k++) code |= bits[at + around[k]] << k;
        if (goes[code]) gone.push(at);
      }
      for (let i = first; i < gone.length; i++) bits[gone[i]] = 0;
    }
    const next: number[] = [];
    for (let n = 0; n < gone.length; n++) {
      if (n % LOOK_RIM === 0) look();
      const at = gone[n];
      for (const way of around) {
        const beside = at + way;
        if (bits[beside] === 0 || queued[beside]) continue;
        queued[beside] = 1;
        next.push(beside);
      }
    }
    for (const at of next) queued[at] = 0;
    rim = next; // elsewhere nothing has changed
  }
  return bits;
}

/** Set texels with an empty one beside them. */
function rimOf(bits: Uint8Array, row: number, height: number, look: () => void): number[] {
  const found: number[] = [];
  for (let y = 1; y <= height; y++) {
    if (y % LOOK_ROWS === 0) look();
    for (let i = y * row + 1, end = i + row - 2; i < end; i++) {
      if (bits[i] && !(bits[i - 1] & bits[i + 1] & bits[i - row] & bits[i + row])) found.push(i);
    }
  }
  return found;
}

/** Whether a texel goes, by its eight neighbours, in the first and in the second half of a round. */
const GOES = [false, true].map((second) => Uint8Array.from({ length: 256 }, (_, code) => (goes(code, second) ? 1 : 0)));

function goes(code: number, second: boolean): boolean {
  const p = Array.from({ length: 8 }, (_, k) => (code >> k) & 1);
  const set = p.reduce((sum, v) => sum + v, 0);
  const starts = p.filter((v, k) => v === 0 && p[(k + 1) % 8] === 1).length;
  if (set < 2 || set > 6 || starts !== 1) return false;
  const [north, , east, , south, , west] = p;
  return second
    ? (north & east & west) === 0 && (north & south & west) === 0
    : (north & east & south) === 0 && (east & south & west) === 0;
}
