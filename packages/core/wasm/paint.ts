// AssemblyScript: a shape of a recipe laid into a band. Doubles throughout, stored as floats: the bytes are those of the
// same loops in core/src/recipe/band.ts and deposit.ts, which paint what has a picture along it.

const LEAST: f64 = 1.0 / 1024.0;
const STEPS: f64 = 64;
const TO_ACROSS: f64 = 128;
// numbers of a texel, bytes: see band.ts
const START = 4;
const OWNER = 8;
const SEEN = 12;
const RED = 16;
const GREEN = 20;
const BLUE = 24;
const LIFT = 28;
const RIGHT = 32;
const UP = 36;
const OUT = 40;
const THROUGH = 44;
const PLACE = 48;
const MOST = 52;
const ID = 56;

function add(at: usize, v: f64): void {
  store<f32>(at, <f32>(<f64>load<f32>(at) + v));
}

/** An edge that crosses several texels of a row. */
function spread(base: usize, l: f64, wide: f64, d: f64): void {
  const per = d / wide;
  const r = l + wide;
  let before: f64 = 0;
  for (let i = 0; <f64>i < r + 1; i++) {
    const k = <f64>i;
    const a = k > l ? k : l;
    const b = k + 1 < r ? k + 1 : r;
    const inside = b > a ? b - a : 0.0;
    const passed = k > l ? (k < r ? k - l : wide) : 0.0;
    const area = passed * per + (inside > 0 ? inside * per * (k + 1 - (a + b) * 0.5) : 0.0);
    add(base + ((<usize>i) << 2), area - before);
    before = area;
  }
}

function depositEdge(
  sums: usize,
  stride: i32,
  from: usize,
  to: usize,
  rows: i32,
  ax: f64,
  ay: f64,
  bx: f64,
  by: f64,
): void {
  if (ay == by) return;
  const sign: f64 = ay < by ? 1 : -1;
  const top = ay < by ? ay : by;
  const bottom = ay < by ? by : ay;
  if (bottom <= 0 || top >= <f64>rows) return;
  const slope = (bx - ax) / (by - ay);
  const y0 = top > 0 ? top : 0.0;
  const y1 = bottom < <f64>rows ? bottom : <f64>rows;
  let x = (ay < by ? ax : bx) + (y0 - top) * slope;
  const most = <f64>(stride - 2);
  for (let row = <i32>y0; <f64>row < y1; row++) {
    const high = <f64>row > y0 ? <f64>row : y0;
    const low = <f64>(row + 1) < y1 ? <f64>(row + 1) : y1;
    const dy = low - high;
    const next = x + slope * dy;
    const d = dy * sign;
    let l = x < next ? x : next;
    let r = x < next ? next : x;
    x = next;
    if (l < 0) l = 0;
    else if (l > most) l = most;
    if (r < 0) r = 0;
    else if (r > most) r = most;
    const first = <i32>l;
    const last = <i32>r;
    const base = sums + ((<usize>(row * stride + first)) << 2);
    if (last == first) {
      const mean = (l + r) * 0.5 - <f64>first;
      add(base, d - d * mean);
      add(base + 4, d * mean);
    } else spread(base, l - <f64>first, r - l, d);
    const at = (<usize>row) << 2;
    if (first < load<i32>(from + at)) store<i32>(from + at, first);
    if (last + 2 > load<i32>(to + at)) store<i32>(to + at, last + 2);
  }
}

/**
 * Areas of a polygon.
 *
 * @param corners - x, y as doubles; `count` of them.
 * @param top - Row of the picture at which the band begins.
 */
export function depositCorners(
  corners: usize,
  count: i32,
  top: f64,
  sums: usize,
  stride: i32,
  from: usize,
  to: usize,
  rows: i32,
): void {
  for (let i = 0; i < count; i++) {
    const p = corners + ((<usize>i) << 4);
    const q = corners + (i + 1 < count ? (<usize>(i + 1)) << 4 : 0);
    depositEdge(sums, stride, from, to, rows, load<f64>(p), load<f64>(p, 8) - top, load<f64>(q), load<f64>(q, 8) - top);
  }
}

/**
 * Takes the areas up, and lays what is seen of a plain surface into the band.
 *
 * @param frame - Twelve doubles, see `FRAME`.
 * @param along - Colours along it, floats.
 * @param profile - Light, tilt, up and rise across it, floats; 257 each.
 */
export function shadeBand(
  sums: usize,
  stride: i32,
  from: usize,
  to: usize,
  rows: i32,
  top: f64,
  width: i32,
  cells: usize,
  each: i32,
  own: f32,
  frame: usize,
  along: usize,
  profile: usize,
  translucency: f64,
  relief: f64,
  id: f32,
  withMaps: i32,
): void {
  const cx = load<f64>(frame);
  const cy = load<f64>(frame, 8);
  const ux = load<f64>(frame, 16);
  const uy = load<f64>(frame, 24);
  const nx = load<f64>(frame, 32);
  const ny = load<f64>(frame, 40);
  const h0 = load<f64>(frame, 48);
  const dh = load<f64>(frame, 56) - h0;
  const s0 = load<f64>(frame, 64) * STEPS;
  const ds = load<f64>(frame, 72) * STEPS - s0;
  const l0 = load<f64>(frame, 80);
  const dl = load<f64>(frame, 88) - l0;
  for (let row = 0; row < rows; row++) {
    const bound = (<usize>row) << 2;
    const reach = load<i32>(to + bound);
    const end = reach < width ? reach : width;
    let cover: f64 = 0;
    const py = <f64>row + top + 0.5 - cy;
    let x = load<i32>(from + bound);
    let sum = sums + ((<usize>(row * stride + x)) << 2);
    let cell = cells + ((<usize>((row * width + x) * each)) << 2);
    for (; x < end; x++, sum += 4, cell += (<usize>each) << 2) {
      cover += <f64>load<f32>(sum);
      store<f32>(sum, 0);
      const area = cover < 0 ? -cover : cover;
      if (area < LEAST) continue;
      const f = <f64>load<f32>(cell);
      if (f < LEAST) continue;
      if (load<f32>(cell, OWNER) != own) {
        store<f32>(cell, own, OWNER);
        store<f32>(cell, <f32>f, START);
      }
      let w = <f64>load<f32>(cell, START) * area;
      if (w > f) w = f;
      store<f32>(cell, <f32>(f - w));
      const px = <f64>x + 0.5 - cx;
      let u = px * ux + py * uy;
      if (u < 0) u = 0;
      else if (u > 1) u = 1;
      const half = h0 + dh * u;
      let t = half > 0 ? (px * nx + py * ny) / half : 0.0;
      if (t < -1) t = -1;
      else if (t > 1) t = 1;
      const across = profile + ((<usize>(<i32>((t + 1) * TO_ACROSS + 0.5))) << 2);
      const place = along + <usize>(12 * <i32>(s0 + ds * u + 0.5));
      const lit = <f64>load<f32>(across) * w;
      add(cell + SEEN, w);
      add(cell + RED, <f64>load<f32>(place) * lit);
      add(cell + GREEN, <f64>load<f32>(place, 4) * lit);
      add(cell + BLUE, <f64>load<f32>(place, 8) * lit);
      if (!withMaps) continue;
      const lean = <f64>load<f32>(across, 1028) * w;
      add(cell + LIFT, (l0 + dl * u + relief * <f64>load<f32>(across, 3084)) * w);
      add(cell + RIGHT, lean * nx);
      add(cell + UP, -(lean * ny));
      add(cell + OUT, <f64>load<f32>(across, 2056) * w);
      add(cell + THROUGH, translucency * w);
      add(cell + PLACE, (s0 + ds * u) * w);
      if (w > <f64>load<f32>(cell, MOST)) {
        store<f32>(cell, <f32>w, MOST);
        store<f32>(cell, id, ID);
      }
    }
    for (; x < reach; x++, sum += 4) store<f32>(sum, 0);
    store<i32>(from + bound, stride);
    store<i32>(to + bound, 0);
  }
}
