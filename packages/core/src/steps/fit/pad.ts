import { frameOf } from '../../raster/run-state.ts';
import type { StepKind } from '../step.ts';
import { FIT_VERSION, laid, sideOf, windowOn, type Sides } from './lay.ts';

export interface PadParams {
  left: number;
  right: number;
  top: number;
  bottom: number;
  /** What is missing to such sides goes to right and bottom. */
  sides: Sides;
}

const side = { min: 0, max: 4096, step: 1, digits: 0, unit: 'texels' } as const;

export const pad: StepKind<PadParams> = {
  stretch: 'fit',
  purpose: 'fit',
  label: 'Pad',
  hint: 'Adds empty texels around; their colour goes on from the border.',
  defaults: { left: 4, right: 4, top: 4, bottom: 4, sides: 'any size' },
  ranges: { left: side, right: side, top: side, bottom: side },
  pullsMask: false,
  sizeAtMost: ({ width, height }, { left, right, top, bottom, sides }) => ({
    width: sideOf(width + left + right, sides),
    height: sideOf(height + top + bottom, sides),
  }),
  apply(state, { left, right, top, bottom, sides }, env) {
    const { width, height } = frameOf(state, env.scale);
    const wide = sideOf(width + left + right, sides);
    const tall = sideOf(height + top + bottom, sides);
    return {
      ...laid(state, windowOn(-left, -top, wide, tall), 'Lanczos', { ...env, version: FIT_VERSION }),
      notice: `${wide} × ${tall}.`,
    };
  },
};
