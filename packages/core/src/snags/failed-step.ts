import { makeStep, type PieceDoc } from '../piece/piece-doc.ts';
import { stepKind, type StepKindName } from '../steps/registry.ts';
import type { Remedy, SnagCheck } from './snag.ts';

/** What makes the map that a step misses. */
const MAKES = {
  'missing-height': { kind: 'height-from-picture', label: 'Make heights from the picture' },
  'missing-normals': { kind: 'normal-from-height', label: 'Make normals from the heights' },
} as const satisfies Record<string, { kind: StepKindName; label: string }>;

/** A step that cannot do what it is there for. */
export const failedStep: SnagCheck = ({ doc, failures }) => {
  const found = failures?.find(({ stepId }) => doc.run.some((s) => s.id === stepId && s.on));
  const step = found && doc.run.find((s) => s.id === found.stepId);
  if (!found || !step) return null;
  const { code, message } = found.error;
  const remedy = code in MAKES ? makeBefore(step.id, MAKES[code as keyof typeof MAKES]) : undefined;
  return {
    id: 'failed-step',
    text: `${stepKind(step.kind).label} does nothing. ${message}`,
    ...(remedy ? { remedy } : {}),
  };
};

function makeBefore(stepId: string, { kind, label }: (typeof MAKES)[keyof typeof MAKES]): Remedy {
  return {
    label,
    apply: (doc: PieceDoc, makeId) => {
      const at = doc.run.findIndex((s) => s.id === stepId);
      return { ...doc, run: doc.run.toSpliced(at, 0, makeStep(makeId(), kind)) };
    },
  };
}
