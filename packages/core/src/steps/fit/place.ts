import { cosine, sine } from '../../math/trigonometry.ts';
import { frameOf } from '../../raster/run-state.ts';
import type { MipFilter } from '../../sieve/mip-filters.ts';
import type { StepKind } from '../step.ts';
import { FIT_BETTER, FIT_VERSION, laid } from './lay.ts';

export interface PlaceParams {
  /** From where it was, texels to the right and down. */
  x: number;
  y: number;
  /** 2: twice as large. */
  size: number;
  /** Around the middle of the texture, clockwise. */
  angle: number;
  filter: MipFilter;
}

export const place: StepKind<PlaceParams> = {
  stretch: 'fit',
  purpose: 'fit',
  version: FIT_VERSION,
  better: FIT_BETTER,
  label: 'Place',
  hint: 'Shifts, turns and scales the picture inside its texture, whose size stays.',
  defaults: { x: 0, y: 0, size: 1, angle: 0, filter: 'Lanczos' },
  ranges: {
    x: { min: -8192, max: 8192, step: 1, digits: 1, unit: 'texels' },
    y: { min: -8192, max: 8192, step: 1, digits: 1, unit: 'texels' },
    size: { min: 0.05, max: 20, logarithmic: true },
    angle: { min: -180, max: 180, step: 0.5, digits: 1, unit: 'degrees' },
  },
  pullsMask: false,
  apply(state, { x, y, size, angle, filter }, env) {
    const { width, height } = frameOf(state, env.scale);
    const [c, s] = [cosine(angle) / size, sine(angle) / size];
    const [u, v] = [width / 2 + x, height / 2 + y]; // where the middle goes
    const placing = {
      width,
      height,
      xx: c,
      xy: s,
      x0: width / 2 - c * u - s * v,
      yx: -s,
      yy: c,
      y0: height / 2 + s * u - c * v,
    };
    return laid(state, placing, filter, env);
  },
};
