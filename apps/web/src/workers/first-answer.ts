import { stepKind } from '@lithe-sieve/core';
import type { RunRequest } from './types';

/**
 * How far a run is computed for the first answer to a change. What follows from it is left for later: a slider of the
 * heights would wait for their occlusion, and that of the mask for everything that light shines through.
 */
export class FirstAnswer {
  private before = { steps: [] as string[], others: '', fitted: false };

  /**
   * @returns the number of steps that are computed first, all where nothing is known before; and whether its fit is a
   *   draft.
   */
  endOf({ run, sources, cardWidth }: RunRequest): { end: number; draft: boolean } {
    const { before } = this;
    const fitted = run.some((s) => s.on && stepKind(s.kind).stretch === 'fit');
    this.before = { steps: run.map((s) => JSON.stringify(s)), others: JSON.stringify([sources, cardWidth]), fitted };
    const all = { end: run.length, draft: false };
    if (before.steps.length === 0 || before.others !== this.before.others) return all;
    const changed = this.before.steps.findIndex((s, i) => s !== before.steps[i]);
    const maps = run.findIndex((s) => stepKind(s.kind).stretch === 'maps');
    if (changed < 0 || maps < 0) return all;
    const { stretch } = stepKind(run[changed].kind);
    if (fitted && before.fitted) return { ...all, draft: stretch === 'fit' };
    if (fitted || before.fitted) return all; // another size
    return { ...all, end: stretch === 'maps' ? changed + 1 : maps };
  }
}
