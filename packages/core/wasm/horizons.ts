// AssemblyScript: how high the ground rises before the sky, looked at along one direction. Where nothing is, heights are
// no numbers (NaN): every comparison with them fails, so that they hide nothing.

/** Heights of a row in texels; what the mask drops is air. */
export function groundRow(words: usize, alpha: usize, least: i32, unit: f32, to: usize, count: i32): void {
  for (let i = 0; i < count; i++) {
    const kept = <i32>load<u8>(alpha + i) >= least;
    store<f32>(to + (i << 2), kept ? <f32>load<u16>(words + (i << 1)) * unit : NaN);
  }
}

/** The mean of two heights; of one where the other is air. */
function mean(a: f32, b: f32): f32 {
  return a != a ? b : b != b ? a : <f32>0.5 * (a + b);
}

/**
 * Halves of each cell of 2 × 2 texels: its upper and its lower row, then its left and its right column.
 *
 * @param to - Four rows of cells, `pitch` bytes each. @param count - Cells.
 */
export function cellRow(above: usize, below: usize, to: usize, pitch: usize, count: i32): void {
  for (let i = 0; i < count; i++) {
    const at = (<usize>i) << 3;
    const a = load<f32>(above + at);
    const b = load<f32>(above + at, 4);
    const c = load<f32>(below + at);
    const d = load<f32>(below + at, 4);
    const cell = to + (i << 2);
    store<f32>(cell, mean(a, b));
    store<f32>(cell + pitch, mean(c, d));
    store<f32>(cell + 2 * pitch, mean(a, c));
    store<f32>(cell + 3 * pitch, mean(b, d));
  }
}

/**
 * The steepest rise from each texel of a row to the places of a table, between two texels each.
 *
 * @param table - Of each place, in 24 bytes: which row of `rows` the nearer texel lies in (as bytes) and how many bytes
 *   along, the same of the other, the other's share, and its distance inverted.
 * @param slopes - Receives rises over distances, 0 where nothing rises. @param nearness - Receives 1 / distance.
 * @param count - A multiple of 8.
 */
export function nearRow(
  table: usize,
  places: i32,
  rows: usize,
  own: usize,
  slopes: usize,
  nearness: usize,
  count: i32,
): void {
  for (let i = 0; i < count; i += 8) {
    const at = (<usize>i) << 2;
    const h = v128.load(own + at);
    const h2 = v128.load(own + at, 16);
    let best = f32x4.splat(0);
    let best2 = f32x4.splat(0);
    let near = f32x4.splat(1);
    let near2 = f32x4.splat(1);
    if (v128.any_true(v128.or(f32x4.eq(h, h), f32x4.eq(h2, h2)))) {
      for (let k = 0, entry = table; k < places; k++, entry += 24) {
        const one = load<usize>(rows + load<usize>(entry)) + load<usize>(entry, 4) + at;
        const other = load<usize>(rows + load<usize>(entry, 8)) + load<usize>(entry, 12) + at;
        const share = v128.load32_splat(entry, 16);
        const closer = v128.load32_splat(entry, 20);
        const a = v128.load(one);
        const d = f32x4.sub(v128.load(other), a);
        const part = f32x4.mul(share, v128.and(d, f32x4.eq(d, d)));
        const slope = f32x4.mul(f32x4.sub(f32x4.add(a, part), h), closer);
        const more = f32x4.gt(slope, best);
        best = v128.bitselect(slope, best, more);
        near = v128.bitselect(closer, near, more);
        const a2 = v128.load(one, 16);
        const d2 = f32x4.sub(v128.load(other, 16), a2);
        const part2 = f32x4.mul(share, v128.and(d2, f32x4.eq(d2, d2)));
        const slope2 = f32x4.mul(f32x4.sub(f32x4.add(a2, part2), h2), closer);
        const more2 = f32x4.gt(slope2, best2);
        best2 = v128.bitselect(slope2, best2, more2);
        near2 = v128.bitselect(closer, near2, more2);
      }
    }
    v128.store(slopes + at, best);
    v128.store(slopes + at, best2, 16);
    v128.store(nearness + at, near);
    v128.store(nearness + at, near2, 16);
  }
}

/** A value between two, by a share of the way; the first where the second is air. */
function towards(a: v128, b: v128, share: v128): v128 {
  const d = f32x4.sub(b, a);
  return f32x4.add(a, f32x4.mul(share, v128.and(d, f32x4.eq(d, d))));
}

/** Rises to four places in a row of them, between four corners each. */
function riseWithin(a: usize, b: usize, c: usize, d: usize, along: v128, aside: v128, closer: v128, h: v128): v128 {
  const first = towards(v128.load(a), v128.load(b), along);
  const second = towards(v128.load(c), v128.load(d), along);
  return f32x4.mul(f32x4.sub(towards(first, second, aside), h), closer);
}

/**
 * Steeper rises from each texel of a row to places within squares of four texels, bilinear: where a square has one high
 * corner, or two across, its middle rises more than its sides show.
 *
 * @param table - Of each place, in 48 bytes: four corners, each its row of `rows` (as bytes) and how many bytes along,
 *   the nearest first, the one beside it along its row, then the same of the other row; the share of the way along the
 *   row, that to the other row, and the distance inverted; 4 bytes are free.
 * @param slopes, nearness - As nearRow left them. @param count - A multiple of 8.
 */
export function withinRow(
  table: usize,
  places: i32,
  rows: usize,
  own: usize,
  slopes: usize,
  nearness: usize,
  count: i32,
): void {
  for (let i = 0; i < count; i += 8) {
    const at = (<usize>i) << 2;
    const h = v128.load(own + at);
    const h2 = v128.load(own + at, 16);
    if (!v128.any_true(v128.or(f32x4.eq(h, h), f32x4.eq(h2, h2)))) continue;
    let best = v128.load(slopes + at);
    let best2 = v128.load(slopes + at, 16);
    let near = v128.load(nearness + at);
    let near2 = v128.load(nearness + at, 16);
    for (let k = 0, entry = table; k < places; k++, entry += 48) {
      const a = load<usize>(rows + load<usize>(entry)) + load<usize>(entry, 4) + at;
      const b = load<usize>(rows + load<usize>(entry, 8)) + load<usize>(entry, 12) + at;
      const c = load<usize>(rows + load<usize>(entry, 16)) + load<usize>(entry, 20) + at;
      const d = load<usize>(rows + load<usize>(entry, 24)) + load<usize>(entry, 28) + at;
      const along = v128.load32_splat(entry, 32);
      const aside = v128.load32_splat(entry, 36);
      const closer = v128.load32_splat(entry, 40);
      const slope = riseWithin(a, b, c, d, along, aside, closer, h);
      const more = f32x4.gt(slope, best);
      best = v128.bitselect(slope, best, more);
      near = v128.bitselect(closer, near, more);
      const slope2 = riseWithin(a + 16, b + 16, c + 16, d + 16, along, aside, closer, h2);
      const more2 = f32x4.gt(slope2, best2);
      best2 = v128.bitselect(slope2, best2, more2);
      near2 = v128.bitselect(closer, near2, more2);
    }
    v128.store(slopes + at, best);
    v128.store(slopes + at, best2, 16);
    v128.store(nearness + at, near);
    v128.store(nearness + at, near2, 16);
  }
}

/** Points of the silhouette that a line remembers. */
const ROOM: i32 = 32;
/** Bytes of a line: its points' places along it and their heights, from the farthest on. */
const LINE: usize = 8 * ROOM;

/** Every second point of a full line goes, never the farthest or the nearest: a smooth hill needs no more. */
function thin(points: usize): i32 {
  let to: usize = 1;
  for (let k = 2; k < ROOM - 1; k += 2, to++) store<u64>(points + (to << 3), load<u64>(points + (k << 3)));
  store<u64>(points + (to << 3), load<u64>(points + ((ROOM - 1) << 3)));
  return <i32>to + 1;
}

/** Height of a line that runs `off` cells beside the middle of a cell. */
function between(cell: usize, ahead: usize, behind: usize, off: f32): f32 {
  const own = load<f32>(cell);
  const other = load<f32>(off < 0 ? behind : ahead);
  return other != other ? own : own + abs(off) * (other - own);
}

/**
 * One row of cells of 2 × 2 texels along lines of one direction: what each texel sees over the silhouette behind it, or
 * over what is near; and the higher half of each cell is put on its line.
 *
 * @param own - Two rows of texels; the second is `pitch` bytes on, as in slopes, nearness and hidden.
 * @param cells - Halves of the row of cells; the others are `other` bytes on, and `half` texels farther along a line, each
 *   as far from the middle. @param ahead, behind - Of the cells beside, towards which a line runs, by its sign.
 * @param lines - Memory of `ring` lines. @param states - Of each: how many points it holds, and the height of the tallest
 *   that it ever held. @param slots - The line of each cell, `turn` lines on.
 * @param along - Its place on it less `start`, texels.
 * @param aside - How far the line runs from the middle of the cell less `apart`, cells.
 * @param places - Of four texels on a line beside the middle of their cell. @param lean - What `aside` takes of that.
 * @param lag - Nearer than this the silhouette is not looked at.
 * @param fade - 1 / reach². @param share - Of all directions. @param hidden - Is added to.
 * @param first, step, count - The order of the cells.
 */
export function farRow(
  own: usize,
  pitch: usize,
  slopes: usize,
  nearness: usize,
  cells: usize,
  other: usize,
  half: f32,
  ahead: usize,
  behind: usize,
  lines: usize,
  states: usize,
  ring: u32,
  turn: u32,
  start: f32,
  apart: f32,
  slots: usize,
  along: usize,
  aside: usize,
  places: usize,
  lean: f32,
  lag: f32,
  fade: f32,
  share: f32,
  hidden: usize,
  first: i32,
  step: i32,
  count: i32,
): void {
  const one = f32x4.splat(1);
  const none = f32x4.splat(0);
  const beside = v128.load(places);
  const fades = f32x4.splat(fade);
  const shares = f32x4.splat(share);
  const nearest = f32x4.splat(lag);
  // cells aside for a texel along
  const turned = lean / 4;
  for (let n = 0, x = first; n < count; n++, x += step) {
    const cell = (<usize>x) << 2;
    const pair = (<usize>x) << 3;
    let slot = load<u32>(slots + cell) + turn;
    if (slot >= ring) slot -= ring;
    const points = lines + LINE * slot;
    const state = states + ((<usize>slot) << 3);
    const t = load<f32>(along + cell) + start;
    const off = load<f32>(aside + cell) + apart;
    let size = load<i32>(state);
    const h = v128.load64_lane(own + pitch + pair, v128.load64_zero(own + pair), 1);
    if (v128.any_true(f32x4.eq(h, h))) {
      let best = v128.load64_lane(slopes + pitch + pair, v128.load64_zero(slopes + pair), 1);
      let near = v128.load64_lane(nearness + pitch + pair, v128.load64_zero(nearness + pair), 1);
      const tallest = f32x4.splat(load<f32>(state, 4));
      if (size > 0 && v128.any_true(f32x4.gt(f32x4.sub(tallest, h), f32x4.mul(best, nearest)))) {
        let k = points + ((<usize>(size - 1)) << 3);
        while (k >= points && t - load<f32>(k) < lag) k -= 8;
        const here = f32x4.add(f32x4.splat(t - lean * off), beside);
        let last = f32x4.splat(-Infinity);
        while (k >= points) {
          const closer = f32x4.div(one, f32x4.sub(here, v128.load32_splat(k)));
          const slope = f32x4.mul(f32x4.sub(v128.load32_splat(k, 4), h), closer);
          const more = f32x4.gt(slope, best);
          best = v128.bitselect(slope, best, more);
          near = v128.bitselect(closer, near, more);
          if (!v128.any_true(f32x4.gt(slope, last))) break;
          last = slope;
          k -= 8;
        }
      }
      const reached = f32x4.max(none, f32x4.sub(one, f32x4.div(fades, f32x4.mul(near, near))));
      const square = f32x4.mul(best, best);
      const part = f32x4.mul(f32x4.mul(shares, reached), f32x4.div(square, f32x4.add(one, square)));
      const sum = f32x4.add(part, v128.load64_lane(hidden + pitch + pair, v128.load64_zero(hidden + pair), 1));
      v128.store64_lane(hidden + pair, sum, 0);
      v128.store64_lane(hidden + pitch + pair, sum, 1);
    }
    const move = half * turned;
    const lower = between(cells + cell, ahead + cell, behind + cell, off - move);
    const upper = between(cells + cell + other, ahead + cell + other, behind + cell + other, off + move);
    const second = lower != lower || upper > lower;
    const top = second ? upper : lower;
    if (top != top) continue;
    const place = second ? t + half : t - half;
    let end = points + ((<usize>size) << 3);
    while (size > 1) {
      const up = load<f32>(end - 4) - top;
      const upNext = load<f32>(end - 12) - top;
      if (upNext * (place - load<f32>(end - 8)) < up * (place - load<f32>(end - 16))) break;
      end -= 8;
      size--;
    }
    if (size == ROOM) {
      size = thin(points);
      end = points + ((<usize>size) << 3);
    }
    store<f32>(end, place);
    store<f32>(end, top, 4);
    store<i32>(state, size + 1);
    store<f32>(state, size == 0 ? top : max(top, load<f32>(state, 4)), 4);
  }
}
