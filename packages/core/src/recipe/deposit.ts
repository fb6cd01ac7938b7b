/** Signed areas of polygons per texel, summed up along each row: what a row of texels is covered by. */
export interface Areas {
  /** Row by row, `stride` numbers each: differences, whose running sum is the cover. */
  readonly sums: Float32Array;
  readonly stride: number;
  /** Of every row the columns that were touched, the last one excluded. */
  readonly from: Int32Array;
  readonly to: Int32Array;
}

/** @param rows - Most rows of a band. */
export function makeAreas(width: number, rows: number): Areas {
  const stride = width + 2;
  return {
    sums: new Float32Array(stride * rows),
    stride,
    from: new Int32Array(rows).fill(stride),
    to: new Int32Array(rows),
  };
}

/**
 * Adds one edge of a polygon: the exact area to its right in each texel, downward edges positive. Rows and columns
 * outside are cut off. As font rasterisers do it: every row gets the differences of the cover from texel to texel.
 */
export function depositEdge(
  { sums, stride, from, to }: Areas,
  rows: number,
  ax: number,
  ay: number,
  bx: number,
  by: number,
): void {
  if (ay === by) return;
  const sign = ay < by ? 1 : -1;
  const top = ay < by ? ay : by;
  const bottom = ay < by ? by : ay;
  if (bottom <= 0 || top >= rows) return;
  const slope = (bx - ax) / (by - ay);
  const y0 = top > 0 ? top : 0;
  const y1 = bottom < rows ? bottom : rows;
  let x = (ay < by ? ax : bx) + (y0 - top) * slope;
  const most = stride - 2;
  for (let row = y0 | 0; row < y1; row++) {
    const high = row > y0 ? row : y0;
    const low = row + 1 < y1 ? row + 1 : y1;
    const dy = low - high;
    const next = x + slope * dy;
    const d = dy * sign;
    let l = x < next ? x : next;
    let r = x < next ? next : x;
    x = next;
    // beyond the sides an edge counts as if it ran along them
    if (l < 0) l = 0;
    else if (l > most) l = most;
    if (r < 0) r = 0;
    else if (r > most) r = most;
    const first = l | 0;
    const base = row * stride + first;
    const last = r | 0;
    if (last === first) {
      const mean = (l + r) * 0.5 - first;
      sums[base] += d - d * mean;
      sums[base + 1] += d * mean;
    } else spread(sums, base, l - first, r - l, d);
    if (first < from[row]) from[row] = first;
    if (last + 2 > to[row]) to[row] = last + 2;
  }
}

/** An edge that crosses several texels of a row, from `l` in the first one, `wide` texels far. */
function spread(sums: Float32Array, base: number, l: number, wide: number, d: number): void {
  const per = d / wide;
  const r = l + wide;
  // area covered up to the texel k: ∫ of how far the edge has come
  let before = 0;
  for (let k = 0; k < r + 1; k++) {
    const a = k > l ? k : l;
    const b = k + 1 < r ? k + 1 : r;
    // of the texel k: what lies right of the edge, full where the edge has passed before
    const inside = b > a ? b - a : 0;
    const passed = k > l ? (k < r ? k - l : wide) : 0;
    const area = passed * per + (inside > 0 ? inside * per * (k + 1 - (a + b) * 0.5) : 0);
    sums[base + k] += area - before;
    before = area;
  }
}
