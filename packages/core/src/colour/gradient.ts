import { fromLabRows, makeLabRows, type LabRows } from './lab-rows.ts';
import { oklabFromBytes } from './oklab.ts';
import type { Rgb } from './srgb.ts';

/** A colour at a place of a gradient, 0–1. */
export interface Stop {
  at: number;
  colour: Rgb;
}

/** Between stops the colour goes over evenly, or jumps halfway. */
export const GRADIENT_BLENDS = ['smooth', 'hard'] as const;
export type GradientBlend = (typeof GRADIENT_BLENDS)[number];

/**
 * A gradient as OKLab in equal steps, mixed there so that the middle of two colours looks like the middle. Before the
 * first stop and after the last the colour goes on; of stops at one place the later counts.
 *
 * @param stops - At least one, in any order.
 * @param steps - At least 2: the first is place 0, the last place 1.
 */
export function gradientLab(stops: readonly Stop[], blend: GradientBlend, steps: number): LabRows {
  const sorted = stops.map((s, i) => ({ ...s, i })).sort((p, q) => p.at - q.at || p.i - q.i);
  const labs = sorted.map(({ colour: [r, g, b] }) => oklabFromBytes(r, g, b));
  const out = makeLabRows(steps);
  for (let i = 0, k = 0; i < steps; i++) {
    const at = i / (steps - 1);
    while (k + 1 < sorted.length && sorted[k + 1].at <= at) k++;
    const [here, next] = [labs[k], labs[Math.min(k + 1, labs.length - 1)]];
    const width = k + 1 < sorted.length ? sorted[k + 1].at - sorted[k].at : 0;
    const way = width > 0 ? Math.min(1, Math.max(0, (at - sorted[k].at) / width)) : 0;
    const t = blend === 'smooth' ? way : way < 0.5 ? 0 : 1;
    out.L[i] = here[0] + (next[0] - here[0]) * t;
    out.a[i] = here[1] + (next[1] - here[1]) * t;
    out.b[i] = here[2] + (next[2] - here[2]) * t;
  }
  return out;
}

/** The gradient as colours, one word 0xffbbggrr a step. */
export function gradientWords(stops: readonly Stop[], blend: GradientBlend, steps: number): Uint32Array {
  const out = new Uint32Array(steps);
  fromLabRows(gradientLab(stops, blend, steps), new Uint32Array(steps).fill(0xff000000), out, 0, steps);
  return out;
}
