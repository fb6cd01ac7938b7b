import { stepKind } from '@lithe-sieve/core';
import type { RunRequest } from './types';

/**
 * How far a run is computed for the first answer to a change. What follows from it is left for later: a slider of the
 * heights would wait for their occlusion, and that of the mask for everything that light shines through.
 */
export class FirstAnswer {
  private before = { steps: [] as string[], others: '', fitted: false };

  /** @returns the number of steps that are computed first; all where nothing is known before. */
  endOf({ run, sources, cardWidth }: RunRequest): number {
    const { before } = this;
    // a fit lays all maps at once, and those without it are of another size
    const fitted = run.some((s) => s.on && stepKind(s.kind).stretch === 'fit');
    this.before = { steps: run.map((s) => JSON.stringify(s)), others: JSON.stringify([sources, cardWidth]), fitted };
    const all = run.length;
    if (fitted || before.fitted || before.steps.length === 0 || before.others !== this.before.others) return all;
    const changed = this.before.steps.findIndex((s, i) => s !== before.steps[i]);
    if (changed < 0) return all;
    if (stepKind(run[changed].kind).stretch === 'maps') return changed + 1;
    const maps = run.findIndex((s) => stepKind(s.kind).stretch === 'maps');
    return maps < 0 ? all : maps;
  }
}
