import { asWords, type Mask } from '../raster/raster.ts';

/** Texels of every 8-bit alpha. */
export type Histogram = Uint32Array;

/**
 * Counts the alphas of a mask. Whole words of 0 or 255, most of any mask, are counted as words; the rest goes to four
 * tables so that equal neighbours do not wait for each other.
 */
export function histogram(mask: Mask): Histogram {
  const { data } = mask;
  const words = asWords(data);
  const four = new Uint32Array(1024);
  const whole = countWords(words, four);
  const out = new Uint32Array(256);
  for (let v = 0; v < 256; v++) out[v] = four[v] + four[256 + v] + four[512 + v] + four[768 + v];
  out[0] += 4 * whole.empty;
  out[255] += 4 * whole.full;
  for (let i = words.length << 2; i < data.length; i++) out[data[i]]++;
  return out;
}

function countWords(words: Uint32Array, four: Uint32Array): { empty: number; full: number } {
  let empty = 0;
  let full = 0;
  for (let i = 0; i < words.length; i++) {
    const w = words[i];
    if (w === 0) empty++;
    else if (w === 0xffffffff) full++;
    else {
      four[w & 255]++;
      four[256 | ((w >>> 8) & 255)]++;
      four[512 | ((w >>> 16) & 255)]++;
      four[768 | (w >>> 24)]++;
    }
  }
  return { empty, full };
}

/** Share kept, 0–1, at every threshold byte 0–256. */
export function coverageCurve(counts: Histogram): Float64Array {
  const total = counts.reduce((sum, n) => sum + n, 0);
  const curve = new Float64Array(257);
  let kept = 0;
  for (let t = 255; t >= 0; t--) {
    kept += counts[t];
    curve[t] = kept / total;
  }
  return curve;
}

/** Coverage at one threshold byte: kept texels / all texels. */
export function coverageAt(counts: Histogram, threshold: number): number {
  let kept = 0;
  let total = 0;
  for (let v = 0; v < 256; v++) {
    total += counts[v];
    if (v >= threshold) kept += counts[v];
  }
  return total > 0 ? kept / total : 0;
}
