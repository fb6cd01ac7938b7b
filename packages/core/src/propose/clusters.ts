import type { Rgb } from '../colour/srgb.ts';
import type { SmallPicture } from './small-picture.ts';

/** Texels of one colour, roughly. */
export interface Cluster {
  /** OKLab. */
  centre: [number, number, number];
  /** The texel that is nearest to it, as bytes. */
  colour: Rgb;
  /** Share of all texels, of those of the border, and of those around the middle. */
  share: number;
  onFrame: number;
  inMiddle: number;
  /** Distance within which nine of ten of its texels lie. */
  reach: number;
}

const ROUNDS = 10;
/** Texels that are looked at: the means of more would be the same. */
const SAMPLES = 8192;
const NINE_OF_TEN = 0.9;

/**
 * k-means of the colours (S. Lloyd, "Least squares quantization in PCM", 1982), begun with colours as far apart as there are
 * (T. Gonzalez, 1985), so that the same picture gives the same clusters.
 *
 * @param isOne - Which texels are looked at.
 * @returns The largest first; fewer than `k` where there are no more colours.
 */
export function clustersOf(small: SmallPicture, k: number, isOne: (texel: number) => boolean = () => true): Cluster[] {
  const { lab, frame, picture } = small;
  const { width, height } = picture;
  const texels = lab.length / 3;
  const step = Math.max(1, Math.floor(texels / SAMPLES));
  const samples: number[] = [];
  for (let i = 0; i < texels; i += step) if (isOne(i)) samples.push(i);
  if (samples.length === 0) return [];
  let centres = farApart(lab, samples, k);
  const of = new Uint8Array(samples.length);
  for (let round = 0; round < ROUNDS; round++) {
    const sums = centres.map(() => [0, 0, 0, 0]);
    for (const [n, i] of samples.entries()) {
      of[n] = nearest(lab, i, centres);
      const sum = sums[of[n]];
      for (let c = 0; c < 3; c++) sum[c] += lab[3 * i + c];
      sum[3]++;
    }
    centres = centres.map((centre, j) =>
      sums[j][3] === 0 ? centre : [sums[j][0] / sums[j][3], sums[j][1] / sums[j][3], sums[j][2] / sums[j][3]],
    );
  }
  const counts = centres.map(() => ({ all: 0, frame: 0, middle: 0, best: Infinity, at: 0, off: [] as number[] }));
  let [frames, middles] = [0, 0];
  for (const i of samples) {
    const j = nearest(lab, i, centres);
    const count = counts[j];
    const distance = Math.sqrt(squared(lab, i, centres[j]));
    count.all++;
    count.off.push(distance);
    if (distance < count.best) [count.best, count.at] = [distance, i];
    const [x, y] = [((i % width) + 0.5) / width - 0.5, (Math.floor(i / width) + 0.5) / height - 0.5];
    if (x * x + y * y < MIDDLE * MIDDLE) {
      count.middle++;
      middles++;
    }
    count.frame += frame[i];
    frames += frame[i];
  }
  return counts
    .map(({ all, frame: framed, middle, at, off }, j): Cluster => {
      const { data } = picture;
      off.sort((a, b) => a - b);
      return {
        centre: centres[j],
        colour: [data[4 * at], data[4 * at + 1], data[4 * at + 2]],
        share: all / samples.length,
        onFrame: framed / Math.max(1, frames),
        inMiddle: middle / Math.max(1, middles),
        reach: off[Math.floor(NINE_OF_TEN * off.length)] ?? 0,
      };
    })
    .filter(({ share }) => share > 0)
    .sort((a, b) => b.share - a.share);
}

/** Radius of what counts as the middle, of the picture's sides. */
const MIDDLE = 0.28;

function farApart(lab: Float32Array, samples: readonly number[], k: number): [number, number, number][] {
  const at = (i: number): [number, number, number] => [lab[3 * i], lab[3 * i + 1], lab[3 * i + 2]];
  const centres = [at(samples[0])];
  const least = new Float64Array(samples.length).fill(Infinity);
  while (centres.length < k) {
    let [far, best] = [0, -1];
    const last = centres[centres.length - 1];
    for (const [n, i] of samples.entries()) {
      least[n] = Math.min(least[n], squared(lab, i, last));
      if (least[n] > best) [far, best] = [i, least[n]];
    }
    if (best <= 0) break;
    centres.push(at(far));
  }
  return centres;
}

function nearest(lab: Float32Array, i: number, centres: readonly [number, number, number][]): number {
  let [found, best] = [0, Infinity];
  for (let j = 0; j < centres.length; j++) {
    const d = squared(lab, i, centres[j]);
    if (d < best) [found, best] = [j, d];
  }
  return found;
}

function squared(lab: Float32Array, i: number, [l, a, b]: readonly [number, number, number]): number {
  const [dl, da, db] = [lab[3 * i] - l, lab[3 * i + 1] - a, lab[3 * i + 2] - b];
  return dl * dl + da * da + db * db;
}
