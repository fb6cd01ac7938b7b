import { describe, expect, test } from '@jest/globals';
import {
  BLOCK_FORMAT_NAMES,
  blockBytes,
  decodeBlocks,
  encodeBlocks,
  holdAtDistance,
  isSieveError,
  thresholdByteReadAsColour,
  makePicture,
  maskMips,
  SieveError,
  type BlockFormat,
  type Blocks,
  type Picture,
} from '../src/testing.ts';
import { noiseMask, noisePicture, random } from './helpers/pictures.ts';
import { drawShape, hair } from './helpers/webs.ts';

// The bit layouts: `decodeBlocks` reads with the decoders that formats.test.ts holds to an independent one (Pillow), every
// mode and partition, by the values of fixtures/dds.json; what is encoded here is right where these read it back.

/** Colours that change smoothly, with some noise, under an alpha with soft edges. */
const leafy = (side: number) => leafyOf(hair(3, side, side / 8), side);

function leafyOf(shape: ReturnType<typeof hair>, side: number): Picture {
  const alpha = drawShape(shape, side, side);
  const next = random(9);
  const data = new Uint8Array(side * side * 4);
  for (let i = 0; i < side * side; i++) {
    const [x, y, noise] = [(i % side) / side, Math.floor(i / side) / side, 12 * next()];
    data.set([40 + 120 * x + noise, 90 + 90 * y + noise, 30 + 60 * x * y + noise, alpha.data[i]], 4 * i);
  }
  return makePicture(side, side, data);
}

/** Alphas that lie close together in each block, on both sides of most cutoffs. */
function softNoise(seed: number, side: number): Picture {
  const next = random(seed);
  const data = new Uint8Array(4 * side * side);
  for (let i = 0; i < side * side; i++) data[4 * i + 3] = 4 * (i % side) + 48 * next() - 24 + 0.5;
  return makePicture(side, side, data);
}

/** Alphas of the ramps of BC3 or BC4 as the fractions that the standard gives. */
function exactRamps({ format, width, height, data }: Blocks): Float64Array {
  const out = new Float64Array(width * height);
  const size = format === 'BC3' ? 16 : 8;
  for (let block = 0, y0 = 0; y0 < height; y0 += 4) {
    for (let x0 = 0; x0 < width; x0 += 4, block += size) {
      const [a, b] = [data[block], data[block + 1]];
      const palette = [a, b];
      const steps = a > b ? 7 : 5;
      for (let k = 1; k < steps; k++) palette.push(((steps - k) * a + k * b) / steps);
      if (a <= b) palette.push(0, 255);
      let bits = 0n;
      for (let k = 7; k >= 2; k--) bits = (bits << 8n) | BigInt(data[block + k]);
      for (let k = 0; k < 16; k++) {
        const [x, y] = [x0 + (k % 4), y0 + (k >> 2)];
        if (x < width && y < height) out[y * width + x] = palette[Number((bits >> BigInt(3 * k)) & 7n)];
      }
    }
  }
  return out;
}

const alphaOf = (format: BlockFormat, data: Uint8Array, i: number) => (format === 'BC4' ? data[i] : data[4 * i + 3]);

function flips(picture: Picture, format: BlockFormat, threshold: number, cutoff?: number): number {
  const { data } = decodeBlocks(encodeBlocks(picture, { format, cutoff }));
  let count = 0;
  for (let i = 0; i < picture.width * picture.height; i++) {
    if (picture.data[4 * i + 3] >= threshold !== alphaOf(format, data, i) >= threshold) count++;
  }
  return count;
}

/** Mean squared error of red, green and blue where alpha is kept. */
function keptError(picture: Picture, format: BlockFormat, cutoff?: number): number {
  const { data } = decodeBlocks(encodeBlocks(picture, { format, cutoff }));
  let [error, count] = [0, 0];
  for (let i = 0; i < data.length; i++) {
    if (i % 4 === 3 || picture.data[i | 3] < 128) continue;
    error += (picture.data[i] - data[i]) ** 2;
    count++;
  }
  return error / count;
}

const WITH_ALPHA = ['BC1', 'BC3', 'BC4', 'BC7'] as const;

describe('clip-exact', () => {
  test.each(WITH_ALPHA)('%s: no texel changes side of any cutoff; a plain encoder turns some', (format) => {
    const pictures = [leafy(64), noisePicture(4, 36, 20)];
    for (const picture of pictures) {
      for (const [cutoff, threshold] of [
        [0.004, 2],
        [0.3, 77],
        [0.5, 128],
        [1, 255],
      ]) {
        expect(flips(picture, format, threshold, cutoff)).toBe(0);
      }
    }
    if (format !== 'BC1') expect(flips(pictures[0], format, 128)).toBeGreaterThan(0);
  });

  // Khronos Data Format Specification 1.3, §19 (RGTC) gives the values between as exact fractions; decoders that round and
  // ones that cut off are both in use (common practice)
  test.each(['BC3', 'BC4'] as const)(
    '%s: no texel turns whether a decoder rounds, cuts off or keeps fractions',
    (format) => {
      const pictures = [
        ...[1, 2, 3, 4].map((seed) => leafyOf(hair(seed, 64, 6 + seed), 64)),
        ...[5, 6, 7].map((seed) => noisePicture(seed, 36, 20)),
        ...[8, 9, 10].map((seed) => softNoise(seed, 64)),
      ];
      for (const picture of pictures) {
        for (const cutoff of [0.1, 0.33, 0.5, 0.9]) {
          const exact = exactRamps(encodeBlocks(picture, { format, cutoff }));
          for (const read of [Math.floor, Math.round, (v: number) => v]) {
            let turned = 0;
            for (let i = 0; i < exact.length; i++)
              if (read(exact[i]) >= 255 * cutoff !== picture.data[4 * i + 3] >= 255 * cutoff) turned++;
            expect(turned).toBe(0);
          }
        }
      }
    },
  );

  test('held levels stay held', () => {
    const { mask } = holdAtDistance(drawShape(hair(5, 128, 20), 128, 128), { cutoff: 0.5 });
    for (const level of [mask, ...maskMips(mask)]) {
      const { data } = decodeBlocks(encodeBlocks(level, { format: 'BC4', cutoff: 0.5 }));
      expect(data.map((v) => Number(v >= 128))).toEqual(level.data.map((v) => Number(v >= 128)));
    }
  });

  test.each(['BC1', 'BC3', 'BC7'] as const)(
    '%s: colour is at most 5 % further off than by a plain encoder',
    (format) => {
      const picture = leafy(64);
      expect(keptError(picture, format, 0.5)).toBeLessThanOrEqual(1.05 * keptError(picture, format));
    },
  );
});

describe('fine', () => {
  // S. Brown, "DXT Compression Techniques" (2006): every way to part the colours, in order along their axis, into the steps
  // of the palette, the ends by least squares; the axis from the best ends again, as long as that is better
  function clusterFit(colours: number[][], steps: number): number {
    const n = colours.length;
    const middle = [0, 1, 2].map((c) => colours.reduce((sum, p) => sum + p[c], 0) / n);
    let axis = [1, 1, 1];
    for (let k = 0; k < 12; k++) {
      const next = [0, 0, 0];
      for (const p of colours) {
        const d = p.map((v, c) => v - middle[c]);
        const along = d[0] * axis[0] + d[1] * axis[1] + d[2] * axis[2];
        for (let c = 0; c < 3; c++) next[c] += along * d[c];
      }
      const long = Math.hypot(...next) || 1;
      axis = next.map((v) => v / long);
    }
    const mean = middle.map(coded);
    let least = errorOf(colours, [mean, mean], steps);
    for (let again = true; again;) {
      again = false;
      const order = [...colours].sort((p, q) => p.reduce((sum, v, c) => sum + (v - q[c]) * axis[c], 0));
      const sums = [[0, 0, 0]];
      for (const p of order) sums.push(sums.at(-1)!.map((v, c) => v + p[c]));
      const cuts = (from: number, left: number): number[][] =>
        left === 0
          ? [[]]
          : Array.from({ length: n - from + 1 }, (_, k) =>
              cuts(from + k, left - 1).map((rest) => [from + k, ...rest]),
            ).flat();
      for (const cut of cuts(0, steps - 1)) {
        const ends = leastSquares([0, ...cut, n], sums, steps);
        const error = ends && errorOf(colours, ends, steps);
        if (!ends || error! >= least) continue;
        least = error!;
        const long = Math.hypot(...ends[1].map((v, c) => v - ends[0][c])) || 1;
        axis = ends[1].map((v, c) => (v - ends[0][c]) / long);
        again = true;
      }
    }
    return least;
  }

  function coded(v: number, c: number): number {
    const top = c === 1 ? 63 : 31;
    const code = Math.max(0, Math.min(top, Math.round((v * top) / 255)));
    return c === 1 ? (code << 2) | (code >> 4) : (code << 3) | (code >> 2);
  }

  function leastSquares(cut: number[], sums: number[][], steps: number): number[][] | null {
    let [aa, ab, bb] = [0, 0, 0];
    const [x, y] = [
      [0, 0, 0],
      [0, 0, 0],
    ];
    for (let g = 0; g < steps; g++) {
      const [b, many] = [g / (steps - 1), cut[g + 1] - cut[g]];
      [aa, ab, bb] = [aa + many * (1 - b) ** 2, ab + many * b * (1 - b), bb + many * b * b];
      for (let c = 0; c < 3; c++) {
        const sum = sums[cut[g + 1]][c] - sums[cut[g]][c];
        x[c] += (1 - b) * sum;
        y[c] += b * sum;
      }
    }
    const det = aa * bb - ab * ab;
    if (Math.abs(det) < 1e-9) return null;
    return [
      x.map((v, c) => coded((v * bb - y[c] * ab) / det, c)),
      x.map((v, c) => coded((y[c] * aa - v * ab) / det, c)),
    ];
  }

  function errorOf(colours: number[][], [a, b]: number[][], steps: number): number {
    const palette = Array.from({ length: steps }, (_, g) =>
      a.map((v, c) => Math.floor((v * (steps - 1 - g) + b[c] * g) / (steps - 1))),
    );
    const off = (p: number[], q: number[]) => p.reduce((sum, v, c) => sum + (v - q[c]) ** 2, 0);
    return colours.reduce((sum, p) => sum + Math.min(...palette.map((q) => off(p, q))), 0);
  }

  test('BC1 is within 5 % of an exhaustive cluster fit by both palettes, and turns no texel', () => {
    const side = 48;
    const picture = leafy(side);
    let theirs = 0;
    for (let block = 0; block < (side / 4) ** 2; block++) {
      const [x0, y0] = [(4 * block) % side, 4 * Math.floor((4 * block) / side)];
      const colours: number[][] = [];
      for (let i = 0; i < 16; i++) {
        const o = 4 * ((y0 + (i >> 2)) * side + x0 + (i & 3));
        if (picture.data[o + 3] >= 128) colours.push([...picture.data.subarray(o, o + 3)]);
      }
      if (colours.length === 0) continue;
      theirs += Math.min(clusterFit(colours, 3), colours.length === 16 ? clusterFit(colours, 4) : Infinity);
    }
    const error = (effort: 'quick' | 'fine') => {
      const { data } = decodeBlocks(encodeBlocks(picture, { format: 'BC1', effort }));
      let sum = 0;
      for (let i = 0; i < data.length; i++) {
        if (i % 4 === 3) expect(data[i] >= 128).toBe(picture.data[i] >= 128);
        else if (picture.data[i | 3] >= 128) sum += (data[i] - picture.data[i]) ** 2;
      }
      return sum;
    };
    expect(error('fine')).toBeLessThan(1.05 * theirs);
    expect(error('quick')).toBeGreaterThan(1.1 * theirs);
    const bc3 = (effort: 'quick' | 'fine') => {
      const { data } = decodeBlocks(encodeBlocks(picture, { format: 'BC3', effort }));
      return data.reduce((sum, v, i) => sum + (picture.data[i | 3] === 255 ? (v - picture.data[i]) ** 2 : 0), 0);
    };
    expect(bc3('fine')).toBeLessThan(bc3('quick'));
  });
});

test('a mask that is read as sRGB is cut higher: half a share of light is byte 188 (IEC 61966-2-1)', () => {
  expect([0, 0.5, 1].map((cutoff) => thresholdByteReadAsColour(cutoff))).toEqual([0, 188, 255]);
  expect(thresholdByteReadAsColour(0.5, 0.4)).toBe(256);
});

describe('blocks', () => {
  test('four bits a texel, or eight; borders are filled up', () => {
    for (const format of BLOCK_FORMAT_NAMES) {
      for (const [width, height] of [
        [1, 1],
        [1, 9],
        [5, 3],
        [30, 17],
      ]) {
        const picture = noisePicture(2, width, height);
        const blocks = encodeBlocks(picture, { format, cutoff: 0.5 });
        expect(blocks.data.length).toBe(blockBytes(format, width, height));
        const decoded = decodeBlocks(blocks);
        expect([decoded.width, decoded.height]).toEqual([width, height]);
      }
    }
    expect([blockBytes('BC1', 8, 8), blockBytes('BC7', 5, 4)]).toEqual([32, 32]);
  });

  test('BC1 by hand: all dropped, and one colour with a dropped texel', () => {
    const clear = encodeBlocks(makePicture(4, 4, new Uint8Array(64)), { format: 'BC1', cutoff: 0.5 }).data;
    // colour0 ≤ colour1 chooses three colours; index 3 of these is transparent (Data Format Specification 1.3, §18.1)
    expect(Array.from(clear)).toEqual([0, 0, 255, 255, 255, 255, 255, 255]);
    const red = Uint8Array.from({ length: 64 }, (_, i) => (i % 4 === 0 || i % 4 === 3 ? 255 : 0));
    red[3] = 0;
    const { data } = encodeBlocks(makePicture(4, 4, red), { format: 'BC1', cutoff: 0.5 });
    expect([data[0] | (data[1] << 8), data[2] | (data[3] << 8)]).toEqual([0xf800, 0xf800]);
    expect(data[4] & 3).toBe(3);
    expect(Array.from(decodeBlocks({ format: 'BC1', width: 4, height: 4, data }).data.subarray(0, 8))).toEqual([
      ...[0, 0, 0, 0],
      ...[255, 0, 0, 255],
    ]);
  });

  test('what the format can hold is held exactly', () => {
    const two = noiseMask(8, 32, 32);
    two.data.forEach((v, i) => (two.data[i] = v > 99 ? 200 : 31));
    expect(decodeBlocks(encodeBlocks(two, { format: 'BC4' })).data).toEqual(two.data);
    const ends = noiseMask(8, 32, 32);
    ends.data.forEach((v, i) => (ends.data[i] = v > 170 ? 255 : v > 85 ? 100 : 0));
    expect(decodeBlocks(encodeBlocks(ends, { format: 'BC4' })).data).toEqual(ends.data);
    const pair = { width: 32, height: 32, channels: 2 as const, data: new Uint8Array(2048) };
    for (let i = 0; i < 1024; i++) pair.data.set([two.data[i], ends.data[i]], 2 * i);
    expect(decodeBlocks(encodeBlocks(pair, { format: 'BC5' })).data).toEqual(pair.data);
  });

  test.each([
    ['BC1', 13],
    ['BC3', 13],
    ['BC7', 5],
  ] as const)('%s: an opaque slope stays close and opaque', (format, most) => {
    const slope = leafy(64);
    for (let i = 3; i < slope.data.length; i += 4) slope.data[i] = 255;
    expect(keptError(slope, format)).toBeLessThan(most);
    const { data } = decodeBlocks(encodeBlocks(slope, { format }));
    for (let i = 3; i < data.length; i += 4) expect(data[i]).toBe(255);
  });

  test('progress comes after each row of blocks, and can cancel', () => {
    const shares: number[] = [];
    encodeBlocks(noisePicture(1, 8, 12), { format: 'BC7', progress: (share) => shares.push(share) });
    expect(shares).toEqual([1 / 3, 2 / 3, 1].map((v) => expect.closeTo(v)));
    const stop = () => {
      throw new SieveError('cancelled', 'Cancelled.');
    };
    expect(() => encodeBlocks(noisePicture(1, 8, 12), { format: 'BC4', progress: stop })).toThrow('Cancelled.');
  });

  test('too few bytes and cutoffs outside 0 to 1 are refused', () => {
    const short = { format: 'BC3' as const, width: 8, height: 8, data: new Uint8Array(63) };
    expect(codeOf(() => decodeBlocks(short))).toBe('truncated');
    expect(codeOf(() => encodeBlocks(noisePicture(1, 4, 4), { format: 'BC1', cutoff: 1.5 }))).toBe('out-of-range');
  });
});

function codeOf(act: () => unknown): string {
  try {
    act();
  } catch (error) {
    if (isSieveError(error)) return error.code;
  }
  return '';
}
