// AssemblyScript: four floats at a time. Places are addresses in bytes; rows lie one after the other.

/** RGBA bytes in sRGB encoding to linear light, alpha as it is. @param table - 256 floats. */
export function lightOfBytes(from: usize, to: usize, count: i32, table: usize): void {
  for (let i = 0; i < count; i++) {
    const word = load<u32>(from);
    store<f32>(to, load<f32>(table + ((word & 255) << 2)));
    store<f32>(to, load<f32>(table + (((word >>> 8) & 255) << 2)), 4);
    store<f32>(to, load<f32>(table + (((word >>> 16) & 255) << 2)), 8);
    store<f32>(to, <f32>(word >>> 24), 12);
    from += 4;
    to += 16;
  }
}

/** Linear light to RGBA bytes. @param table - The byte of each of 65536 values of light. */
export function bytesOfLight(from: usize, to: usize, count: i32, table: usize): void {
  const low = f32x4.splat(0);
  const high = f32x4.replace_lane(f32x4.splat(65535), 3, 255);
  const half = f32x4.splat(0.5);
  for (let i = 0; i < count; i++) {
    const v = f32x4.add(f32x4.min(f32x4.max(v128.load(from), low), high), half);
    const whole = i32x4.trunc_sat_f32x4_s(v);
    store<u8>(to, load<u8>(table + <usize>i32x4.extract_lane(whole, 0)));
    store<u8>(to, load<u8>(table + <usize>i32x4.extract_lane(whole, 1)), 1);
    store<u8>(to, load<u8>(table + <usize>i32x4.extract_lane(whole, 2)), 2);
    store<u8>(to, <u8>i32x4.extract_lane(whole, 3), 3);
    from += 16;
    to += 4;
  }
}

export function floatsOfBytes(from: usize, to: usize, count: i32): void {
  for (let i = 0; i < count; i++) store<f32>(to + (i << 2), <f32>load<u8>(from + i));
}

export function floatsOfWords(from: usize, to: usize, count: i32): void {
  for (let i = 0; i < count; i++) store<f32>(to + (i << 2), <f32>load<u16>(from + (i << 1)));
}

/** Three words a texel to four floats, the last 0. */
export function floatsOfTriples(from: usize, to: usize, count: i32): void {
  for (let i = 0; i < count; i++) {
    store<f32>(to, <f32>load<u16>(from));
    store<f32>(to, <f32>load<u16>(from, 2), 4);
    store<f32>(to, <f32>load<u16>(from, 4), 8);
    store<f32>(to, 0, 12);
    from += 6;
    to += 16;
  }
}

export function bytesOfFloats(from: usize, to: usize, count: i32): void {
  for (let i = 0; i < count; i++) store<u8>(to + i, <u8>rounded(load<f32>(from + (i << 2)), 255));
}

export function wordsOfFloats(from: usize, to: usize, count: i32): void {
  for (let i = 0; i < count; i++) store<u16>(to + (i << 1), <u16>rounded(load<f32>(from + (i << 2)), 65535));
}

export function triplesOfFloats(from: usize, to: usize, count: i32): void {
  for (let i = 0; i < count; i++) {
    store<u16>(to, <u16>rounded(load<f32>(from), 65535));
    store<u16>(to, <u16>rounded(load<f32>(from, 4), 65535), 2);
    store<u16>(to, <u16>rounded(load<f32>(from, 8), 65535), 4);
    from += 16;
    to += 6;
  }
}

function rounded(value: f32, full: f32): i32 {
  return <i32>(min(max(value, <f32>0), full) + <f32>0.5);
}

/**
 * The weighted sum of rows. @param rows - Addresses of the rows, 32 bits each. @param weights - A float each.
 * @param floats - Of a row, a multiple of 16.
 */
export function sumRows(rows: usize, weights: usize, taps: i32, to: usize, floats: i32): void {
  const bytes = (<usize>floats) << 2;
  for (let at: usize = 0; at < bytes; at += 64) {
    let a = f32x4.splat(0);
    let b = f32x4.splat(0);
    let c = f32x4.splat(0);
    let d = f32x4.splat(0);
    for (let k = 0; k < taps; k++) {
      const w = v128.load32_splat(weights + (k << 2));
      const row = <usize>load<u32>(rows + (k << 2)) + at;
      a = f32x4.add(a, f32x4.mul(w, v128.load(row)));
      b = f32x4.add(b, f32x4.mul(w, v128.load(row, 16)));
      c = f32x4.add(c, f32x4.mul(w, v128.load(row, 32)));
      d = f32x4.add(d, f32x4.mul(w, v128.load(row, 48)));
    }
    v128.store(to + at, a);
    v128.store(to + at, b, 16);
    v128.store(to + at, c, 32);
    v128.store(to + at, d, 48);
  }
}

/**
 * Texels of a row as weighted sums of its texels. @param first - The first texel read for each, 32 bits.
 * @param weights - `taps` floats for each. @param count - Texels out.
 */
export function sumAcross4(row: usize, first: usize, weights: usize, taps: i32, to: usize, count: i32): void {
  for (let i = 0; i < count; i++) {
    let sum = f32x4.splat(0);
    let from = row + ((<usize>load<u32>(first + (i << 2))) << 4);
    for (let k = 0; k < taps; k++) {
      sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(weights), v128.load(from)));
      weights += 4;
      from += 16;
    }
    v128.store(to + (i << 4), sum);
  }
}

/** The same of one float a texel. @param taps - A multiple of 4; the row goes on by 3 texels behind its end. */
export function sumAcross1(row: usize, first: usize, weights: usize, taps: i32, to: usize, count: i32): void {
  for (let i = 0; i < count; i++) {
    let sum = f32x4.splat(0);
    let from = row + ((<usize>load<u32>(first + (i << 2))) << 2);
    for (let k = 0; k < taps; k += 4) {
      sum = f32x4.add(sum, f32x4.mul(v128.load(weights), v128.load(from)));
      weights += 16;
      from += 16;
    }
    store<f32>(to + (i << 2), total(sum));
  }
}

function total(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + (f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3));
}

function byTaps(row: usize, stride: usize, across: usize, down: usize, taps: i32): v128 {
  let sum = f32x4.splat(0);
  for (let j = 0; j < taps; j++) {
    let line = f32x4.splat(0);
    for (let k = 0; k < taps; k++) {
      line = f32x4.add(line, f32x4.mul(v128.load32_splat(across + (k << 2)), v128.load(row + (k << 4))));
    }
    sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(down + (j << 2)), line));
    row += stride;
  }
  return sum;
}

/** For filters that are three texels wide to either side: the weights stay in registers. */
function sixBySix(row: usize, stride: usize, across: usize, down: usize): v128 {
  const a = v128.load32_splat(across);
  const b = v128.load32_splat(across, 4);
  const c = v128.load32_splat(across, 8);
  const d = v128.load32_splat(across, 12);
  const e = v128.load32_splat(across, 16);
  const f = v128.load32_splat(across, 20);
  let sum = f32x4.splat(0);
  for (let j = 0; j < 6; j++) {
    const left = f32x4.add(
      f32x4.add(f32x4.mul(a, v128.load(row)), f32x4.mul(b, v128.load(row, 16))),
      f32x4.mul(c, v128.load(row, 32)),
    );
    const right = f32x4.add(
      f32x4.add(f32x4.mul(d, v128.load(row, 48)), f32x4.mul(e, v128.load(row, 64))),
      f32x4.mul(f, v128.load(row, 80)),
    );
    sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(down), f32x4.add(left, right)));
    down += 4;
    row += stride;
  }
  return sum;
}

/**
 * A row of texels read from anywhere in a part of a picture, its texels four floats each.
 *
 * @param stride - Texels of a row of the part.
 * @param x - Place of the first texel out in the part, in texels from the centre of its first; y alike. Every tap lies in it.
 * @param dx - From texel to texel; dy alike.
 * @param kernel - Weights of every fraction of a texel (`phases` of them and one), `taps` floats each.
 */
export function turnRow4(
  part: usize,
  stride: i32,
  x: f64,
  y: f64,
  dx: f64,
  dy: f64,
  kernel: usize,
  taps: i32,
  phases: i32,
  first: i32,
  to: usize,
  count: i32,
): void {
  for (let i = 0; i < count; i++) {
    const u = x + dx * <f64>i;
    const v = y + dy * <f64>i;
    const fu = floor(u);
    const fv = floor(v);
    const across = kernel + <usize>((<i32>((u - fu) * <f64>phases + 0.5) * taps) << 2);
    const down = kernel + <usize>((<i32>((v - fv) * <f64>phases + 0.5) * taps) << 2);
    const row = part + ((<usize>((<i32>fv + first) * stride + <i32>fu + first)) << 4);
    const line = (<usize>stride) << 4;
    const sum = taps == 6 ? sixBySix(row, line, across, down) : byTaps(row, line, across, down, taps);
    v128.store(to + (i << 4), sum);
  }
}

/** The same of one float a texel. @param padded - Floats between the weights of two fractions, a multiple of 4. */
export function turnRow1(
  part: usize,
  stride: i32,
  x: f64,
  y: f64,
  dx: f64,
  dy: f64,
  kernel: usize,
  taps: i32,
  padded: i32,
  phases: i32,
  first: i32,
  to: usize,
  count: i32,
): void {
  for (let i = 0; i < count; i++) {
    const u = x + dx * <f64>i;
    const v = y + dy * <f64>i;
    const fu = floor(u);
    const fv = floor(v);
    const across = kernel + <usize>((<i32>((u - fu) * <f64>phases + 0.5) * padded) << 2);
    const down = kernel + <usize>((<i32>((v - fv) * <f64>phases + 0.5) * padded) << 2);
    let row = part + ((<usize>((<i32>fv + first) * stride + <i32>fu + first)) << 2);
    let sum = f32x4.splat(0);
    if (padded == 8) {
      const left = v128.load(across);
      const right = v128.load(across, 16);
      for (let j = 0; j < taps; j++) {
        const line = f32x4.add(f32x4.mul(left, v128.load(row)), f32x4.mul(right, v128.load(row, 16)));
        sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(down + (j << 2)), line));
        row += (<usize>stride) << 2;
      }
    } else {
      for (let j = 0; j < taps; j++) {
        const w = v128.load32_splat(down + (j << 2));
        for (let k = 0; k < padded; k += 4) {
          const line = f32x4.mul(v128.load(across + (k << 2)), v128.load(row + (k << 2)));
          sum = f32x4.add(sum, f32x4.mul(w, line));
        }
        row += (<usize>stride) << 2;
      }
    }
    store<f32>(to + (i << 2), total(sum));
  }
}
