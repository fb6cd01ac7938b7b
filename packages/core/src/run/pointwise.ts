import type { StepEntry } from '../piece/piece-doc.ts';
import { stepKind } from '../steps/registry.ts';

/**
 * Whether the mask of a run depends, texel by texel, on the sources alone: then the share kept is estimated without bias
 * from texels picked out of them, see {@link RowSampler}. Where steps look around, averages of cells are no worse.
 */
export function isPointwise(run: readonly StepEntry[]): boolean {
  return run.every((step) => {
    const kind = stepKind(step.kind);
    if (!step.on) return true;
    return kind.stretch === 'mask' ? kind.pointwise?.(step.params) === true : kind.stretch !== 'fit';
  });
}
