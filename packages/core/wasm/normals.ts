// AssemblyScript: directions of a height field, four texels at a time.

/** Words to whole numbers, the outermost twice more at either end. @param count - Words. */
export function padRow(from: usize, to: usize, count: i32): void {
  for (let i = 0; i < count; i++) store<i32>(to + ((i + 2) << 2), <i32>load<u16>(from + (i << 1)));
  const left = load<i32>(to, 8);
  store<i32>(to, left);
  store<i32>(to, left, 4);
  const right = load<i32>(to + ((count + 1) << 2));
  for (let i = 2; i < 8; i++) store<i32>(to + ((count + i) << 2), right);
}

function slope(before2: v128, before: v128, after: v128, after2: v128): v128 {
  const near = i32x4.shl(i32x4.sub(after, before), 3);
  return f32x4.convert_i32x4_s(i32x4.add(i32x4.sub(near, after2), before2));
}

/**
 * One row of normals from five padded rows of heights: 8 (h₁ − h₋₁) − (h₂ − h₋₂) either way, times `unit`.
 *
 * @param steepest - Slope to which steeper ones are laid back.
 * @param to - Three words a texel; up to three texels more than `count` are written.
 */
export function normalRow(
  up2: usize,
  up: usize,
  own: usize,
  down: usize,
  down2: usize,
  unit: f32,
  steepest: f32,
  to: usize,
  count: i32,
): void {
  const one = f32x4.splat(1);
  const scale = f32x4.splat(unit);
  const most = f32x4.splat(steepest * steepest);
  const long = f32x4.splat(steepest);
  const full = f32x4.splat(32767.5);
  const middle = f32x4.splat(32768);
  for (let i = 0; i < count; i += 4) {
    const at = (<usize>i) << 2;
    const h = own + at;
    let nx = f32x4.neg(f32x4.mul(scale, slope(v128.load(h), v128.load(h, 4), v128.load(h, 12), v128.load(h, 16))));
    let ny = f32x4.mul(
      scale,
      slope(v128.load(up2 + at, 8), v128.load(up + at, 8), v128.load(down + at, 8), v128.load(down2 + at, 8)),
    );
    let steep = f32x4.add(f32x4.mul(nx, nx), f32x4.mul(ny, ny));
    const over = f32x4.gt(steep, most);
    if (v128.any_true(over)) {
      const back = v128.bitselect(f32x4.div(long, f32x4.sqrt(steep)), one, over);
      nx = f32x4.mul(nx, back);
      ny = f32x4.mul(ny, back);
      steep = v128.bitselect(most, steep, over);
    }
    const length = f32x4.div(full, f32x4.sqrt(f32x4.add(steep, one)));
    const x = i32x4.trunc_sat_f32x4_s(f32x4.add(f32x4.mul(nx, length), middle));
    const y = i32x4.trunc_sat_f32x4_s(f32x4.add(f32x4.mul(ny, length), middle));
    const z = i32x4.trunc_sat_f32x4_s(f32x4.add(length, middle));
    store<u16>(to, <u16>i32x4.extract_lane(x, 0));
    store<u16>(to, <u16>i32x4.extract_lane(y, 0), 2);
    store<u16>(to, <u16>i32x4.extract_lane(z, 0), 4);
    store<u16>(to, <u16>i32x4.extract_lane(x, 1), 6);
    store<u16>(to, <u16>i32x4.extract_lane(y, 1), 8);
    store<u16>(to, <u16>i32x4.extract_lane(z, 1), 10);
    store<u16>(to, <u16>i32x4.extract_lane(x, 2), 12);
    store<u16>(to, <u16>i32x4.extract_lane(y, 2), 14);
    store<u16>(to, <u16>i32x4.extract_lane(z, 2), 16);
    store<u16>(to, <u16>i32x4.extract_lane(x, 3), 18);
    store<u16>(to, <u16>i32x4.extract_lane(y, 3), 20);
    store<u16>(to, <u16>i32x4.extract_lane(z, 3), 22);
    to += 24;
  }
}
