import { coverageCurve, type Histogram } from './histogram.ts';
import { otsuThreshold } from './otsu.ts';
import { thresholdByte } from '../math/threshold.ts';

export type SuggestionKind = 'usual' | 'true-area' | 'steadiest' | 'otsu' | 'thinnest';

/** A cutoff worth taking, and why in a sentence. */
export interface Suggestion {
  kind: SuggestionKind;
  label: string;
  /** One letter for its mark, different from all others. */
  letter: string;
  cutoff: number;
  reason: string;
}

export interface SuggestContext {
  /** Counts of each level, 0 first, as a target will average them. */
  levels: readonly { width: number; height: number; counts: Histogram }[];
  /** The material's opacity factor, 0–1. */
  opacity: number;
  /** See `thinnestConnection`; null where nothing can break or it is not known yet. */
  thinnest: number | null;
}

/** Levels whose longer side is less are no part of what should be steady. */
const SMALLEST = 16;
const percent = (share: number) => `${(100 * share).toFixed(1)} %`;

export function suggestCutoffs({ levels, opacity, thinnest }: SuggestContext): Suggestion[] {
  if (levels.length === 0 || opacity <= 0) return [];
  const curves = levels.map((level) => coverageCurve(level.counts));
  const { counts } = levels[0];
  const found: Suggestion[] = [
    {
      kind: 'usual',
      label: 'usual',
      letter: 'u',
      cutoff: 0.5,
      reason: `What targets take where none is set: keeps ${percent(curves[0][thresholdByte(0.5, opacity)])}.`,
    },
  ];
  const mean = meanAlpha(counts);
  const area = nearestTo(curves[0], mean);
  if (area !== null) {
    found.push({
      kind: 'true-area',
      label: 'true area',
      letter: 'a',
      cutoff: cutoffOf(area, opacity),
      reason: `Keeps ${percent(curves[0][area])}, as much as the mean alpha covers (${percent(mean)}).`,
    });
  }
  const steady = steadiest(levels, curves, mean);
  if (steady) {
    found.push({
      kind: 'steadiest',
      label: 'steadiest',
      letter: 's',
      cutoff: cutoffOf(steady.byte, opacity),
      reason: `Drifts least over the mip levels: by ${(100 * steady.drift).toFixed(1)} points at most, down to ${SMALLEST} texels.`,
    });
  }
  const otsu = otsuThreshold(counts);
  if (otsu !== null) {
    found.push({
      kind: 'otsu',
      label: 'Otsu',
      letter: 'O',
      cutoff: cutoffOf(otsu + 1, opacity),
      reason: 'Splits low from high alphas where both groups vary least (Otsu 1979).',
    });
  }
  if (thinnest !== null) {
    found.push({
      kind: 'thinnest',
      label: 'thinnest part',
      letter: 't',
      cutoff: cutoffOf(thinnest, opacity),
      reason: 'Any higher, and the thinnest connection between two parts breaks.',
    });
  }
  return found;
}

/** A cutoff that keeps exactly the alphas from a byte on: halfway to the one below, in steps of a thousandth. */
function cutoffOf(byte: number, opacity: number): number {
  return Math.max(0, Math.min(1, Math.round(((byte - 0.5) / 255) * opacity * 1000) / 1000));
}

function meanAlpha(counts: Histogram): number {
  let sum = 0;
  let total = 0;
  for (let v = 0; v < 256; v++) {
    sum += v * counts[v];
    total += counts[v];
  }
  return total > 0 ? sum / total / 255 : 0;
}

/** The byte whose coverage is nearest to a share; null where all texels are of one alpha. */
function nearestTo(curve: Float64Array, share: number): number | null {
  let best: number | null = null;
  for (let t = 1; t < 256; t++) {
    if (curve[t] === 0 || curve[t] === 1) continue;
    if (best === null || Math.abs(curve[t] - share) < Math.abs(curve[best] - share)) best = t;
  }
  return best;
}

/** The byte whose largest drift is least, among those that keep about what there is: half to twice the mean alpha. */
function steadiest(
  levels: SuggestContext['levels'],
  curves: readonly Float64Array[],
  mean: number,
): { byte: number; drift: number } | null {
  const used = curves.filter((_, i) => Math.max(levels[i].width, levels[i].height) >= SMALLEST);
  let best: { byte: number; drift: number } | null = null;
  if (used.length < 2) return null;
  for (let byte = 1; byte < 256; byte++) {
    const near = curves[0][byte];
    if (near < mean / 2 || near > 2 * mean || near === 0 || near === 1) continue;
    const drift = Math.max(...used.map((curve) => Math.abs(curve[byte] - near)));
    if (!best || drift < best.drift) best = { byte, drift };
  }
  return best;
}
