/*
 * BC7 blocks, Khronos Data Format Specification 1.3, BPTC (§20.1), in the two modes of one subset whose ends have alpha and
 * seven bits or more: mode 6 with one index of 4 bits, mode 5 with an index of 2 bits for colour and another for alpha.
 */
import { writeFive, writeSix, type Fit } from './bc7-write.ts';

/** Weights of the second end in 64ths. */
const WEIGHTS_4 = Uint8Array.of(0, 4, 9, 13, 17, 21, 26, 30, 34, 38, 43, 47, 51, 55, 60, 64);
const WEIGHTS_2 = Uint8Array.of(0, 21, 43, 64);
const ROUNDS = 2;

/** Sixteen texels as planes of 0–255, and how much their colour counts; alpha counts the same everywhere. */
export interface TexelBlock {
  /** Red, green, blue, alpha. */
  planes: readonly [Float64Array, Float64Array, Float64Array, Float64Array];
  weight: Float64Array;
}

export function texelBlock(): TexelBlock {
  const plane = () => new Float64Array(16);
  return { planes: [plane(), plane(), plane(), plane()], weight: plane() };
}

function emptyFit(): Fit {
  return { error: 0, ends: new Int32Array(8), low: [0, 0], indices: new Uint8Array(16), second: new Uint8Array(16) };
}

const trial = emptyFit();
const six = emptyFit();
const five = emptyFit();
const first = new Float64Array(4);
const last = new Float64Array(4);
const palette = new Uint8Array(64);

/**
 * Encodes sixteen texels into sixteen bytes.
 *
 * @param rough - Where no colour is seen, the first fit will do.
 * @param threshold - Byte, 1–255: every alpha stays on its side of it; 0 or 256: the nearest is taken.
 */
export function encodeBc7(block: TexelBlock, threshold: number, out: Uint8Array, at: number, rough = false): void {
  alphaWeight = threshold > 0 && threshold < 256 ? CLIPPED_ALPHA : 1;
  fitSix(block, threshold, rough ? 0 : ROUNDS);
  const good = six.error <= (rough ? ROUGH : GOOD);
  if (!good) fitFive(block, threshold);
  if (!good && five.error < six.error) writeFive(five, out, at);
  else writeSix(six, out, at);
}

/** What an error of alpha counts beside one of colour: of a clipped one the side is kept already. */
const CLIPPED_ALPHA = 0.5;
let alphaWeight = 1;

/** Squared errors of a block with which the other mode is not tried: below a step for each texel; where none is seen, below eight. */
const GOOD = 8;
const ROUGH = 1024;

const means = new Float64Array(4);
const covariance = new Float64Array(16);
let axis = new Float64Array(4);
let turned = new Float64Array(4);

/** Mean and principal axis of the first `channels` planes; the furthest texels along it become `first` and `last`. */
function startEnds({ planes, weight }: TexelBlock, channels: number): void {
  let total = 0;
  for (let i = 0; i < 16; i++) total += weight[i];
  for (let c = 0; c < channels; c++) {
    const plane = planes[c];
    let sum = 0;
    if (c === 3) for (let i = 0; i < 16; i++) sum += plane[i];
    else for (let i = 0; i < 16; i++) sum += weight[i] * plane[i];
    means[c] = sum / (c === 3 ? 16 : total);
  }
  for (let c = 0; c < channels; c++) {
    for (let d = c; d < channels; d++) {
      covariance[4 * c + d] = covariance[4 * d + c] = covarianceOf(
        planes[c],
        planes[d],
        weight,
        means[c],
        means[d],
        c === 3,
      );
    }
  }
  findAxis(channels);
  let least = Infinity;
  let most = -Infinity;
  for (let i = 0; i < 16; i++) {
    let along = 0;
    for (let c = 0; c < channels; c++) along += axis[c] * (planes[c][i] - means[c]);
    if (along < least) least = along;
    if (along > most) most = along;
  }
  for (let c = 0; c < channels; c++) {
    first[c] = clamp255(means[c] + axis[c] * least);
    last[c] = clamp255(means[c] + axis[c] * most);
  }
}

function covarianceOf(
  p: Float64Array,
  q: Float64Array,
  weight: Float64Array,
  m: number,
  n: number,
  unweighted: boolean,
): number {
  let sum = 0;
  if (unweighted) for (let i = 0; i < 16; i++) sum += (p[i] - m) * (q[i] - n);
  else for (let i = 0; i < 16; i++) sum += weight[i] * (p[i] - m) * (q[i] - n);
  return sum;
}

/** The principal axis by power iteration, into `axis`; of length 1, or 0 where all texels are one. */
function findAxis(channels: number): void {
  let widest = 0;
  for (let c = 1; c < channels; c++) if (covariance[5 * c] > covariance[5 * widest]) widest = c;
  for (let c = 0; c < 4; c++) axis[c] = covariance[4 * widest + c];
  for (let k = 0; k < 5; k++) {
    let square = 0;
    for (let c = 0; c < channels; c++) {
      let sum = 0;
      for (let d = 0; d < channels; d++) sum += covariance[4 * c + d] * axis[d];
      turned[c] = sum;
      square += sum * sum;
    }
    const scale = square < 1e-12 ? 0 : 1 / Math.sqrt(square);
    for (let c = 0; c < channels; c++) turned[c] *= scale;
    [axis, turned] = [turned, axis];
    if (scale === 0) return;
  }
}

function clamp255(value: number): number {
  return value < 0 ? 0 : value > 255 ? 255 : value;
}

function fitSix(block: TexelBlock, threshold: number, rounds: number): void {
  six.error = Infinity;
  startEnds(block, 4);
  for (let round = 0; round <= rounds; round++) {
    quantiseSix(block);
    const error = indexSix(block, threshold);
    if (error >= six.error) break;
    copyFit(trial, error, six);
    if (error === 0 || round === rounds || !refit(block, WEIGHTS_4, six.indices, 0, 4)) break;
  }
}

/** Seven bits and one low bit that the four channels of an end share. An opaque block stays opaque. */
function quantiseSix({ planes }: TexelBlock): void {
  let opaque = true;
  for (let i = 0; i < 16; i++) opaque &&= planes[3][i] === 255;
  for (let e = 0; e < 2; e++) {
    const wanted = e === 0 ? first : last;
    let least = Infinity;
    for (let low = opaque ? 1 : 0; low < 2; low++) {
      let error = 0;
      for (let c = 0; c < 4; c++) {
        const high = sevenBits(wanted[c], low);
        const off = ((high << 1) | low) - wanted[c];
        error += off * off;
      }
      if (error >= least) continue;
      least = error;
      trial.low[e] = low;
      for (let c = 0; c < 4; c++) trial.ends[2 * c + e] = sevenBits(wanted[c], low);
    }
  }
}

function sevenBits(value: number, low: number): number {
  const high = Math.floor((value - low) / 2 + 0.5);
  return high < 0 ? 0 : high > 127 ? 127 : high;
}

/** @returns the error; Infinity where a texel cannot stay on its side. */
function indexSix({ planes, weight }: TexelBlock, threshold: number): number {
  for (let c = 0; c < 4; c++) {
    const a = (trial.ends[2 * c] << 1) | trial.low[0];
    const b = (trial.ends[2 * c + 1] << 1) | trial.low[1];
    for (let k = 0; k < 16; k++) palette[4 * k + c] = ((64 - WEIGHTS_4[k]) * a + WEIGHTS_4[k] * b + 32) >> 6;
  }
  const [red, green, blue, alpha] = planes;
  const dr = palette[60] - palette[0];
  const dg = palette[61] - palette[1];
  const db = palette[62] - palette[2];
  const da = palette[63] - palette[3];
  const sided = threshold > 0 && threshold < 256;
  const rising = da >= 0;
  let keptFrom = 0; // of the indices in the order of rising alpha
  if (sided) while (keptFrom < 16 && palette[4 * (rising ? keptFrom : 15 - keptFrom) + 3] < threshold) keptFrom++;
  let total = 0;
  for (let i = 0; i < 16; i++) {
    const w = weight[i];
    const square = w * (dr * dr + dg * dg + db * db) + alphaWeight * da * da;
    const along =
      w * ((red[i] - palette[0]) * dr + (green[i] - palette[1]) * dg + (blue[i] - palette[2]) * db) +
      alphaWeight * (alpha[i] - palette[3]) * da;
    let k = square > 0 ? Math.floor((15 * along) / square + 0.5) : 0;
    k = k < 0 ? 0 : k > 15 ? 15 : k;
    let from = 0;
    let to = 15;
    if (sided) {
      const kept = alpha[i] >= threshold;
      if (kept ? keptFrom === 16 : keptFrom === 0) return Infinity;
      const low = kept ? keptFrom : 0;
      const high = kept ? 15 : keptFrom - 1;
      from = rising ? low : 15 - high;
      to = rising ? high : 15 - low;
      k = k < from ? from : k > to ? to : k;
    }
    let error = errorAt(planes, w, i, k);
    const up = k < to ? errorAt(planes, w, i, k + 1) : Infinity;
    const down = k > from ? errorAt(planes, w, i, k - 1) : Infinity;
    if (up < error && up <= down) {
      error = up;
      k++;
    } else if (down < error) {
      error = down;
      k--;
    }
    trial.indices[i] = k;
    total += error;
  }
  return total;
}

function errorAt(planes: TexelBlock['planes'], w: number, i: number, k: number): number {
  const r = planes[0][i] - palette[4 * k];
  const g = planes[1][i] - palette[4 * k + 1];
  const b = planes[2][i] - palette[4 * k + 2];
  const a = planes[3][i] - palette[4 * k + 3];
  return w * (r * r + g * g + b * b) + alphaWeight * a * a;
}

/** Ends of least squared error for the indices, into `first` and `last`; false where these do not tell both. */
function refit(
  { planes, weight }: TexelBlock,
  weights: Uint8Array,
  indices: Uint8Array,
  from: number,
  to: number,
): boolean {
  for (let c = from; c < to; c++) {
    const plane = planes[c];
    let aa = 0;
    let ab = 0;
    let bb = 0;
    let av = 0;
    let bv = 0;
    for (let i = 0; i < 16; i++) {
      const w = c === 3 ? 1 : weight[i];
      const b = weights[indices[i]] / 64;
      const a = 1 - b;
      aa += w * a * a;
      ab += w * a * b;
      bb += w * b * b;
      av += w * a * plane[i];
      bv += w * b * plane[i];
    }
    const det = aa * bb - ab * ab;
    if (Math.abs(det) < 1e-9) return false;
    first[c] = clamp255((bb * av - ab * bv) / det);
    last[c] = clamp255((aa * bv - ab * av) / det);
  }
  return true;
}

function copyFit(from: Fit, error: number, to: Fit): void {
  to.error = error;
  to.ends.set(from.ends);
  to.indices.set(from.indices);
  to.second.set(from.second);
  to.low[0] = from.low[0];
  to.low[1] = from.low[1];
}

function fitFive(block: TexelBlock, threshold: number): void {
  const alpha = fitAlphaOfFive(block, threshold);
  five.error = Infinity;
  startEnds(block, 3);
  for (let round = 0; round <= ROUNDS; round++) {
    for (let c = 0; c < 3; c++) {
      trial.ends[2 * c] = Math.floor((first[c] * 127) / 255 + 0.5);
      trial.ends[2 * c + 1] = Math.floor((last[c] * 127) / 255 + 0.5);
    }
    const error = indexColourOfFive(block);
    if (error + alpha >= five.error) break;
    copyFit(trial, error + alpha, five);
    if (error === 0 || round === ROUNDS || !refit(block, WEIGHTS_2, five.indices, 0, 3)) break;
  }
}

/** Ends of alpha and its indices, into `trial`. @returns the error. */
function fitAlphaOfFive({ planes }: TexelBlock, threshold: number): number {
  const alpha = planes[3];
  let least = 255;
  let most = 0;
  for (let i = 0; i < 16; i++) {
    if (alpha[i] < least) least = alpha[i];
    if (alpha[i] > most) most = alpha[i];
  }
  trial.ends[6] = least;
  trial.ends[7] = most;
  const sided = threshold > 0 && threshold < 256;
  let total = 0;
  for (let i = 0; i < 16; i++) {
    const v = alpha[i];
    let error = Infinity;
    for (let k = 0; k < 4; k++) {
      const value = ((64 - WEIGHTS_2[k]) * least + WEIGHTS_2[k] * most + 32) >> 6;
      if (sided && value >= threshold !== v >= threshold) continue;
      const off = (value - v) * (value - v);
      if (off >= error) continue;
      error = off;
      trial.second[i] = k;
    }
    total += alphaWeight * error;
  }
  return total;
}

function indexColourOfFive({ planes, weight }: TexelBlock): number {
  for (let c = 0; c < 3; c++) {
    const a = (trial.ends[2 * c] << 1) | (trial.ends[2 * c] >> 6);
    const b = (trial.ends[2 * c + 1] << 1) | (trial.ends[2 * c + 1] >> 6);
    for (let k = 0; k < 4; k++) palette[4 * k + c] = ((64 - WEIGHTS_2[k]) * a + WEIGHTS_2[k] * b + 32) >> 6;
  }
  let total = 0;
  for (let i = 0; i < 16; i++) {
    let error = Infinity;
    for (let k = 0; k < 4; k++) {
      const r = planes[0][i] - palette[4 * k];
      const g = planes[1][i] - palette[4 * k + 1];
      const b = planes[2][i] - palette[4 * k + 2];
      const e = r * r + g * g + b * b;
      if (e >= error) continue;
      error = e;
      trial.indices[i] = k;
    }
    total += weight[i] * error;
  }
  return total;
}
