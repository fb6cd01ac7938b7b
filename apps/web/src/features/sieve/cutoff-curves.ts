import { coverageCurve, thresholdByte, type Histogram, type LevelSummary } from '@lithe-sieve/core';

/** Points of a curve over cutoffs, both 0–1. */
export type Curve = { x: number; y: number }[];

const STEPS = 128;

/** Share kept at every cutoff, the opacity factor included. */
export function curveOf(counts: Histogram, opacity: number): Curve {
  const values = coverageCurve(counts);
  return Array.from({ length: STEPS + 1 }, (_, i) => ({ x: i / STEPS, y: values[thresholdByte(i / STEPS, opacity)] }));
}

export function keptAt(counts: Histogram, cutoff: number, opacity: number): number {
  return coverageCurve(counts)[thresholdByte(cutoff, opacity)];
}

/** How far the share kept goes, at most, with a cutoff that is 0.01 lower or higher; 0–1. */
function sensitivity(counts: Histogram, cutoff: number, opacity: number): number {
  const values = coverageCurve(counts);
  const at = (c: number) => values[thresholdByte(Math.min(1, Math.max(0, c)), opacity)];
  return Math.max(at(cutoff - 0.01) - at(cutoff), at(cutoff) - at(cutoff + 0.01));
}

const percent = (share: number) => `${(100 * share).toFixed(1)} %`;

/** What the chart holds at a cutoff, in words: level 0, and the levels whose curves are drawn. */
export function wordsAt(
  levels: readonly LevelSummary[],
  curves: readonly number[],
  cutoff: number,
  opacity: number,
): string {
  if (!levels[0]) return '';
  const others = curves
    .filter((i) => levels[i])
    .map((i) => `${levels[i].width}: ${percent(keptAt(levels[i].counts, cutoff, opacity))}`);
  const { counts } = levels[0];
  const step = `±0.01: ${(100 * sensitivity(counts, cutoff, opacity)).toFixed(2)} points`;
  return [
    `${cutoff.toFixed(2)} keeps ${percent(keptAt(counts, cutoff, opacity))}`,
    ...(others.length > 0 ? others : [step]),
  ].join(', ');
}
