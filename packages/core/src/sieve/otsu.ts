import type { Histogram } from './histogram.ts';

/**
 * Threshold with the largest variance between the two classes (N. Otsu, "A Threshold Selection Method from
 * Gray-Level Histograms", 1979). Returns the highest value of the lower class, as the reference libraries do; null
 * where fewer than two values occur.
 */
export function otsuThreshold(counts: Histogram): number | null {
  let total = 0;
  let sum = 0;
  for (let v = 0; v < 256; v++) {
    total += counts[v];
    sum += v * counts[v];
  }
  let best: number | null = null;
  let bestVariance = 0;
  let below = 0;
  let sumBelow = 0;
  for (let v = 0; v < 255; v++) {
    below += counts[v];
    sumBelow += v * counts[v];
    if (below === 0 || below === total) continue;
    const difference = sumBelow / below - (sum - sumBelow) / (total - below);
    const variance = below * (total - below) * difference * difference;
    if (variance > bestVariance) {
      bestVariance = variance;
      best = v;
    }
  }
  return best;
}
