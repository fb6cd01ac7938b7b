import { keptBox } from '../../mask/kept-box.ts';
import { frameOf } from '../../raster/run-state.ts';
import type { StepKind } from '../step.ts';
import { FIT_VERSION, laid, sideOf, SUBJECT, windowOn, type Sides } from './lay.ts';

export interface TrimParams {
  /** Dropped texels that stay around the subject. */
  margin: number;
  sides: Sides;
}

export const trim: StepKind<TrimParams> = {
  stretch: 'fit',
  purpose: 'fit',
  label: 'Trim',
  hint: 'Cuts the texture down to the box around what the mask keeps, with a margin.',
  defaults: { margin: 8, sides: 'multiple of 4' },
  ranges: { margin: { min: 0, max: 1024, step: 1, digits: 0, unit: 'texels' } },
  pullsMask: false,
  sizeAtMost: ({ width, height }, { margin, sides }) => ({
    width: sideOf(width + 2 * margin, sides),
    height: sideOf(height + 2 * margin, sides),
  }),
  apply(state, { margin, sides }, env) {
    const box = keptBox(state.mask, SUBJECT);
    if (!box) return { notice: 'The mask keeps nothing to trim to.' };
    const { width, height } = frameOf(state, env.scale);
    const full = [box.x0, box.y0, box.x1, box.y1].map((v) => v / env.scale);
    const [x0, y0] = [Math.floor(full[0]) - margin, Math.floor(full[1]) - margin];
    const wide = sideOf(Math.ceil(full[2]) + margin - x0, sides);
    const tall = sideOf(Math.ceil(full[3]) + margin - y0, sides);
    // what sides grow by goes to both
    const x = x0 - Math.floor((wide - (Math.ceil(full[2]) + margin - x0)) / 2);
    const y = y0 - Math.floor((tall - (Math.ceil(full[3]) + margin - y0)) / 2);
    const less = 1 - (wide * tall) / (width * height);
    const told = less >= 0 ? `${Math.round(100 * less)} % fewer` : `${Math.round(-100 * less)} % more`;
    return {
      ...laid(state, windowOn(x, y, wide, tall), 'Lanczos', { ...env, version: FIT_VERSION }),
      notice: `${wide} × ${tall}: ${told} texels.`,
    };
  },
};
