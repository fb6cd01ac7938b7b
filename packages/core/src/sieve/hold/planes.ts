import { filterTaps, type MipFilter } from '../mip-filters.ts';

/** Values of a level row by row, in 256ths of an alpha; whole numbers, since conversions would take most of the time. */
export interface Plane {
  width: number;
  height: number;
  data: Int32Array;
}

export function emptyPlane({ width, height }: { width: number; height: number }): Plane {
  return { width, height, data: new Int32Array(width * height) };
}

/** A filter that halves even sides: texels to either side of the middle, from the inside out; its weights add up to 1/2. */
export function tapsOutwards(filter: MipFilter): number[] {
  const [to, o] = [16, 8];
  const { count, index, weight } = filterTaps(filter, 2 * to, to, 'clamp');
  const taps = new Array<number>(REACH).fill(0);
  for (let k = o * count; k < (o + 1) * count; k++)
    if (weight[k] !== 0 && index[k] > 2 * o) taps[index[k] - 2 * o - 1] += weight[k];
  return taps;
}

/** Texels that the widest filter takes to either side, and rows that are kept of them. */
const REACH = 6;
const RING = 16;
/** Weights in 16384ths; handed back, in 1024ths, as they are multiplied. */
const WEIGHT_SHIFT = 14;
const BACK_SHIFT = 10;

/**
 * Halves a level; borders are clamped.
 *
 * @param from - `2 * out.width` × `2 * out.height` values. @param shift - By how many bits they are below 256ths.
 */
export function halve(from: Int32Array | Uint8Array, taps: readonly number[], shift: number, out: Plane): void {
  const [a, b, c, d, e, f] = taps.map((w) => Math.round(w * 2 ** WEIGHT_SHIFT));
  const { width, height, data } = out;
  const row = new Int32Array(2 * (width + REACH));
  const ring = new Int32Array(RING * width);
  const right = WEIGHT_SHIFT - shift;
  let read = 0;
  for (let y = 0, o = 0; y < height; y++) {
    for (const last = Math.min(2 * height, 2 * y + 1 + REACH); read < last; read++) {
      readRow(from, 2 * width, read, row);
      const at = (read % RING) * width;
      for (let x = 0, i = REACH; x < width; x++, i += 2) {
        const sum =
          Math.imul(a, row[i] + row[i + 1]) +
          Math.imul(b, row[i - 1] + row[i + 2]) +
          Math.imul(c, row[i - 2] + row[i + 3]) +
          Math.imul(d, row[i - 3] + row[i + 4]) +
          Math.imul(e, row[i - 4] + row[i + 5]) +
          Math.imul(f, row[i - 5] + row[i + 6]);
        ring[at + x] = sum >> right;
      }
    }
    const place = (k: number) => (Math.max(0, Math.min(2 * height - 1, 2 * y + k)) % RING) * width;
    const [a0, a1, b0, b1, c0, c1] = [place(0), place(1), place(-1), place(2), place(-2), place(3)];
    const [d0, d1, e0, e1, f0, f1] = [place(-3), place(4), place(-4), place(5), place(-5), place(6)];
    for (let x = 0; x < width; x++, o++) {
      const sum =
        Math.imul(a, ring[a0 + x] + ring[a1 + x]) +
        Math.imul(b, ring[b0 + x] + ring[b1 + x]) +
        Math.imul(c, ring[c0 + x] + ring[c1 + x]) +
        Math.imul(d, ring[d0 + x] + ring[d1 + x]) +
        Math.imul(e, ring[e0 + x] + ring[e1 + x]) +
        Math.imul(f, ring[f0 + x] + ring[f1 + x]);
      data[o] = sum >> WEIGHT_SHIFT;
    }
  }
}

function readRow(from: Int32Array | Uint8Array, width: number, y: number, row: Int32Array): void {
  row.set(from.subarray(y * width, (y + 1) * width), REACH);
  row.fill(row[REACH], 0, REACH);
  row.fill(row[REACH + width - 1], REACH + width);
}

/**
 * Adds each value of a level to the texels it is made of, by `scale` times their weight; at borders a little less.
 *
 * @param level - Values of 17 bits at most. @param out - `2 * width` × `2 * height` values.
 */
export function spread({ width, height, data }: Plane, taps: readonly number[], scale: number, out: Plane): void {
  const [a, b, c, d, e, f] = taps.map((w) => Math.round(w * 2 ** BACK_SHIFT));
  const empty = emptyRows(data, width, height);
  const row = new Int32Array(width + REACH);
  const to = out.data;
  for (let y = 0; y < 2 * height; y++) {
    const [first, way] = [y >> 1, y % 2 ? 1 : -1];
    const rows = NEXT.map((k) => first + way * k);
    const used = rows.map((r) => r >= 0 && r < height && empty[r] === 0);
    if (!used.includes(true)) continue;
    const at = rows.map((r, k) => (used[k] ? r * width : 0));
    const by = taps.map((w, k) => (used[k] ? Math.round(w * scale * 2 ** BACK_SHIFT) : 0));
    weighRows(data, at, by, row);
    for (let x = REACH / 2, i = 2 * y * width; x < width + REACH / 2; x++, i += 2) {
      const [own, before, after] = [row[x], row[x - 1], row[x + 1]];
      const [sooner, later] = [row[x - 2], row[x + 2]];
      const inner = Math.imul(a, own);
      to[i] +=
        (inner +
          Math.imul(b, before) +
          Math.imul(c, after) +
          Math.imul(d, sooner) +
          Math.imul(e, later) +
          Math.imul(f, row[x - 3])) >>
        BACK_SHIFT;
      to[i + 1] +=
        (inner +
          Math.imul(b, after) +
          Math.imul(c, before) +
          Math.imul(d, later) +
          Math.imul(e, sooner) +
          Math.imul(f, row[x + 3])) >>
        BACK_SHIFT;
    }
  }
}

/** Rows, or columns, of the smaller level that a texel goes into, from its own: by taps from the inside out. */
const NEXT = [0, 1, -1, 2, -2, 3];

function emptyRows(data: Int32Array, width: number, height: number): Uint8Array {
  return Uint8Array.from({ length: height }, (_, y) => {
    for (let i = y * width, end = i + width; i < end; i++) if (data[i] !== 0) return 0;
    return 1;
  });
}

function weighRows(data: Int32Array, at: readonly number[], by: readonly number[], row: Int32Array): void {
  const [p, q, r, s, t, u] = at;
  const [a, b, c, d, e, f] = by;
  for (let x = 0, o = REACH / 2; o < row.length - REACH / 2; x++, o++) {
    row[o] =
      (Math.imul(a, data[p + x]) +
        Math.imul(b, data[q + x]) +
        Math.imul(c, data[r + x]) +
        Math.imul(d, data[s + x]) +
        Math.imul(e, data[t + x]) +
        Math.imul(f, data[u + x])) >>
      BACK_SHIFT;
  }
}

/**
 * What a filter makes of blocks that are even in themselves: each mean weighed with the eight around it, what lies further
 * out taken for what lies next; borders are clamped. @param from - Of the size of `out`.
 */
export function weighBlocks(from: Uint16Array, taps: readonly number[], out: Plane): void {
  const beside = Math.round((0.5 - taps[0]) * 2 ** WEIGHT_SHIFT);
  const own = 2 ** WEIGHT_SHIFT - 2 * beside;
  const { width, height, data } = out;
  const row = new Int32Array(width + 2);
  for (let y = 0, o = 0; y < height; y++) {
    const here = y * width;
    const before = y > 0 ? here - width : here;
    const after = y < height - 1 ? here + width : here;
    for (let x = 0; x < width; x++) {
      row[1 + x] =
        (Math.imul(own, from[here + x]) + Math.imul(beside, from[before + x] + from[after + x])) >> WEIGHT_SHIFT;
    }
    row[0] = row[1];
    row[1 + width] = row[width];
    for (let x = 1; x <= width; x++, o++) {
      data[o] = (Math.imul(own, row[x]) + Math.imul(beside, row[x - 1] + row[x + 1])) >> WEIGHT_SHIFT;
    }
  }
}
