import { stepKind } from '@lithe-sieve/core';
import type { RunRequest } from './types';

/**
 * How far a run is computed for the first answer to a change. What follows from it is left for later: a slider of the
 * heights would wait for their occlusion, and that of the mask for everything that light shines through.
 */
export class FirstAnswer {
  private before = { steps: [] as string[], others: '', files: '', fitted: false };

  /**
   * @returns the number of steps that are computed first, all where nothing is known before; whether its fit is a
   *   draft, and whether its recipes are.
   */
  endOf({ run, sources, cardWidth }: RunRequest): { end: number; draft: boolean; grownDraft: boolean } {
    const { before } = this;
    const fitted = run.some((s) => s.on && stepKind(s.kind).stretch === 'fit');
    const files = sources.map((s) => (s.recipe ? { id: s.id, kind: s.recipe.kind } : s));
    this.before = {
      steps: run.map((s) => JSON.stringify(s)),
      others: JSON.stringify([sources, cardWidth]),
      files: JSON.stringify(files),
      fitted,
    };
    const all = { end: run.length, draft: false, grownDraft: false };
    if (before.steps.length === 0) return all;
    if (before.others !== this.before.others) {
      // a recipe alone was changed, and no step needs the maps that a draft of it lacks
      const alone = before.files === this.before.files && before.steps.join() === this.before.steps.join();
      const plain = run.every((s) => !s.on || ['mask', 'colour'].includes(stepKind(s.kind).stretch));
      return { ...all, grownDraft: alone && plain };
    }
    const changed = this.before.steps.findIndex((s, i) => s !== before.steps[i]);
    const maps = run.findIndex((s) => stepKind(s.kind).stretch === 'maps');
    if (changed < 0 || maps < 0) return all;
    const { stretch } = stepKind(run[changed].kind);
    if (fitted && before.fitted) return { ...all, draft: stretch === 'fit' };
    if (fitted || before.fitted) return all; // another size
    return { ...all, end: stretch === 'maps' ? changed + 1 : maps };
  }
}
