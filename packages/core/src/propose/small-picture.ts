import { oklabFromBytes } from '../colour/oklab.ts';
import { shrink, halvingsTo } from '../raster/shrink.ts';
import type { Picture } from '../raster/raster.ts';

/** Longer side that proposals are found at, texels at the most. */
const SIDE = 256;
/** Share of the shorter side that counts as border. */
const FRAME = 0.03;

/** A picture as small as proposals need it, with what is known of its texels. */
export interface SmallPicture {
  picture: Picture;
  /** Texels of the full size to one of these. */
  factor: number;
  /** OKLab, three numbers a texel. */
  lab: Float32Array;
  /** How strongly colours change there: length of the gradient of OKLab. */
  gradient: Float32Array;
  /** A gradient above this is an edge of the picture. */
  strong: number;
  /** 1 on the border. */
  frame: Uint8Array;
  /** How far each texel is from the middle, in sides of the picture. */
  fromMiddle: Float32Array;
  /** The largest gradient within two texels. */
  ridge: Float32Array;
  /** Which bin its colour is in. */
  bins: Uint16Array;
  /** Sums over all texels. */
  whole: {
    gradient: number;
    fromMiddle: number;
    /** Texels in each bin. */
    bins: Uint32Array;
    /** Of the three channels of OKLab, and of their squares. */
    sums: number[];
    /** Root of the variance of OKLab. */
    spread: number;
  };
}

/** @param scale - Texels of the picture to one of its full size. */
export function smallPicture(of: Picture, scale = 1): SmallPicture {
  const picture = shrink(of, halvingsTo(SIDE, of), 'colour');
  const { width, height, data } = picture;
  const lab = new Float32Array(3 * width * height);
  for (let i = 0, o = 0; i < data.length; i += 4) {
    const [l, a, b] = oklabFromBytes(data[i], data[i + 1], data[i + 2]);
    lab[o++] = l;
    lab[o++] = a;
    lab[o++] = b;
  }
  const frame = new Uint8Array(width * height);
  const fromMiddle = new Float32Array(width * height);
  const wide = Math.max(1, Math.round(FRAME * Math.min(width, height)));
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      frame[i] = Number(x < wide || y < wide || x >= width - wide || y >= height - wide);
      fromMiddle[i] = Math.hypot((x + 0.5) / width - 0.5, (y + 0.5) / height - 0.5);
    }
  }
  const gradient = gradientOf(lab, width, height);
  const { bins, counts } = binned(data);
  const sums = sumsOf(lab);
  const whole = {
    gradient: sumOf(gradient),
    fromMiddle: sumOf(fromMiddle),
    bins: counts,
    sums,
    spread: spreadOf(sums, width * height),
  };
  return {
    picture,
    factor: of.width / width / scale,
    lab,
    gradient,
    strong: strongOf(gradient),
    frame,
    fromMiddle,
    bins,
    ridge: ridgeOf(gradient, width, height),
    whole,
  };
}

/** Bins of a channel. */
const BINS = 8;

function binned(data: Uint8Array): { bins: Uint16Array; counts: Uint32Array } {
  const bins = new Uint16Array(data.length / 4);
  const counts = new Uint32Array(BINS ** 3);
  for (let i = 0, o = 0; i < bins.length; i++, o += 4) {
    bins[i] = ((data[o] >> 5) * BINS + (data[o + 1] >> 5)) * BINS + (data[o + 2] >> 5);
    counts[bins[i]]++;
  }
  return { bins, counts };
}

const sumOf = (values: Float32Array) => values.reduce((sum, v) => sum + v, 0);

function sumsOf(lab: Float32Array): number[] {
  const sums = [0, 0, 0, 0];
  for (const [i, v] of lab.entries()) {
    sums[i % 3] += v;
    sums[3] += v * v;
  }
  return sums;
}

/** Root of the variance. @param sums - Of three channels and their squares, over `n`. */
function spreadOf([l, a, b, squares]: readonly number[], n: number): number {
  return Math.sqrt(Math.max(0, squares / n - (l * l + a * a + b * b) / (n * n)));
}

/** Within how many texels. */
const NEAR = 2;

/** The highest around each, by rows and then by columns. */
function ridgeOf(gradient: Float32Array, width: number, height: number): Float32Array {
  const highest = (from: Float32Array, step: number, at: (i: number) => number, last: number) => {
    const out = from.slice();
    for (let i = 0; i < out.length; i++) {
      const place = at(i);
      for (let d = -NEAR; d <= NEAR; d++) {
        if (place + d >= 0 && place + d <= last) out[i] = Math.max(out[i], from[i + d * step]);
      }
    }
    return out;
  };
  const rows = highest(gradient, 1, (i) => i % width, width - 1);
  return highest(rows, width, (i) => Math.floor(i / width), height - 1);
}

/** A gradient above that of so many texels is an edge of the picture; one that is not seen is none. */
const [STRONG, LEAST_SEEN] = [0.85, 0.02];

function strongOf(gradient: Float32Array): number {
  return Math.max(LEAST_SEEN, gradient.toSorted()[Math.floor(STRONG * gradient.length)]);
}

/** By central differences, the border repeated. */
function gradientOf(lab: Float32Array, width: number, height: number): Float32Array {
  const out = new Float32Array(width * height);
  for (let y = 0, i = 0; y < height; y++) {
    const [up, down] = [y > 0 ? width : 0, y < height - 1 ? width : 0];
    for (let x = 0; x < width; x++, i++) {
      const [left, right] = [Number(x > 0), Number(x < width - 1)];
      let sum = 0;
      for (let c = 0; c < 3; c++) {
        const dx = lab[3 * (i + right) + c] - lab[3 * (i - left) + c];
        const dy = lab[3 * (i + down) + c] - lab[3 * (i - up) + c];
        sum += dx * dx + dy * dy;
      }
      out[i] = Math.sqrt(sum);
    }
  }
  return out;
}
