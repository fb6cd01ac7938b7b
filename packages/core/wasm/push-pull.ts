// AssemblyScript: the largest steps of push and pull, whose texels are four words (red, green, blue, weight).

/** Adds a row of a picture to one half as wide: colours of trusted texels, and how many they are. */
export function pullRow(words: usize, alpha: usize, threshold: i32, to: usize, count: i32): void {
  for (let i = 0; i < count; i++) {
    if (<i32>load<u8>(alpha + i) < threshold) continue;
    const word = (load<u32>(words + (i << 2)) & 0xffffff) | 0x1000000;
    const at = to + ((i >> 1) << 3);
    const texel = i16x8.extend_low_i8x16_u(i32x4.splat(word));
    v128.store64_lane(at, i16x8.add(v128.load64_zero(at), texel), 0);
  }
}

/** Three times one row and once the other, floats, with the outermost texels once more at either end. */
function vertical4(own: usize, next: usize, to: usize, wide: i32): void {
  const three = f32x4.splat(3);
  for (let u = 0; u < wide; u++) {
    const at = (<usize>u) << 4;
    v128.store(to + at, f32x4.add(f32x4.mul(three, v128.load(own + at)), v128.load(next + at)), 16);
  }
  v128.store(to, v128.load(to, 16));
  v128.store(to + ((<usize>wide) << 4), v128.load(to + ((<usize>wide) << 4)), 16);
}

/**
 * A row of colours in sixteenths from sums and counts; where none was counted, from two rows of the next smaller level.
 *
 * @param texels - Sums and counts; receives the colours. @param vert - Room for wide + 2 texels of floats.
 */
export function pushRow(own: usize, next: usize, vert: usize, wide: i32, texels: usize, count: i32): void {
  vertical4(own, next, vert, wide);
  const three = f32x4.splat(3);
  const half = f32x4.splat(0.5);
  for (let x = 0; x < count; x++) {
    const at = texels + (x << 3);
    const sums = v128.load64_zero(at);
    const many = i16x8.extract_lane_u(sums, 3);
    let colour: v128;
    if (many > 0) {
      const floats = f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(sums));
      colour = f32x4.mul(floats, f32x4.splat(<f32>16 / <f32>many));
    } else {
      const middle = vert + (((x >> 1) + 1) << 4);
      const beside = x & 1 ? middle + 16 : middle - 16;
      colour = f32x4.add(f32x4.mul(three, v128.load(middle)), v128.load(beside));
    }
    const whole = i32x4.trunc_sat_f32x4_s(f32x4.add(colour, half));
    v128.store64_lane(at, i16x8.narrow_i32x4_u(whole, whole), 0);
  }
}

/**
 * A row of a picture from two rows of colours in sixteenths, where its alpha is below the threshold.
 *
 * @param vert - Room for wide + 2 texels of words. @param words - The row as it is; alpha stays.
 */
export function fillRow(
  own: usize,
  next: usize,
  vert: usize,
  wide: i32,
  alpha: usize,
  threshold: i32,
  words: usize,
  count: i32,
): void {
  const three = i16x8.splat(3);
  for (let u = 0; u < wide; u++) {
    const at = (<usize>u) << 3;
    const sum = i16x8.add(i16x8.mul(three, v128.load64_zero(own + at)), v128.load64_zero(next + at));
    v128.store64_lane(vert + at, sum, 0, 8);
  }
  v128.store64_lane(vert, v128.load64_zero(vert, 8), 0);
  v128.store64_lane(vert + ((<usize>wide) << 3), v128.load64_zero(vert + ((<usize>wide) << 3)), 0, 8);
  const half = i16x8.splat(128);
  for (let x = 0; x < count; x++) {
    if (<i32>load<u8>(alpha + x) >= threshold) continue;
    const middle = vert + (((x >> 1) + 1) << 3);
    const beside = x & 1 ? middle + 8 : middle - 8;
    const sum = i16x8.add(i16x8.mul(three, v128.load64_zero(middle)), v128.load64_zero(beside));
    const bytes = i16x8.shr_u(i16x8.add(sum, half), 8);
    const colour = i32x4.extract_lane(i8x16.narrow_i16x8_u(bytes, bytes), 0) & 0xffffff;
    const at = words + (x << 2);
    store<u32>(at, (load<u32>(at) & 0xff000000) | colour);
  }
}
