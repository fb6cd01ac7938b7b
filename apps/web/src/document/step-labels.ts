import { STEP_KINDS, stepKind, type StepEntry, type StepKindName, type Stretch } from '@lithe-sieve/core';

export function stepLabel(step: StepEntry): string {
  return stepKind(step.kind).label;
}

/** Kinds that can be inserted into a stretch. */
export function kindsOf(stretch: Stretch): StepKindName[] {
  return (Object.keys(STEP_KINDS) as StepKindName[]).filter((k) => stepKind(k).stretch === stretch);
}
