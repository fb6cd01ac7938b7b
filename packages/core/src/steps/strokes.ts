import type { StepKind } from './step.ts';

export interface StrokesParams {
  /** Ids of what was done by hand, in order; the strokes themselves are kept apart, since they never change. */
  strokes: string[];
}

/** Cut and restored by hand, on top of whatever stands before it. */
export const strokes: StepKind<StrokesParams> = {
  stretch: 'mask',
  purpose: 'cut',
  label: 'Strokes',
  hint: 'Cut and restore on the picture with brushes, outlines and regions. Earlier steps can still be tuned.',
  defaults: { strokes: [] },
  ranges: {},
  pullsMask: false,
  apply: (_state, params, env) => ({ mask: env.paintStrokes(params.strokes), transient: true }),
};
