import { frameOf } from '../../raster/run-state.ts';
import type { MipFilter } from '../../sieve/mip-filters.ts';
import type { StepKind } from '../step.ts';
import { FIT_BETTER, FIT_VERSION, laid, sideOf, type Sides } from './lay.ts';

export const RESIZE_BYS = ['factor', 'longer side', 'texels per metre'] as const;
export type ResizeBy = (typeof RESIZE_BYS)[number];

export interface ResizeParams {
  by: ResizeBy;
  /** 0.5: half the size, as one authors at twice what is delivered. */
  factor: number;
  side: number;
  /** Texels to a metre of the card. */
  density: number;
  sides: Sides;
  filter: MipFilter;
}

export const resizeAll: StepKind<ResizeParams> = {
  stretch: 'fit',
  purpose: 'fit',
  version: FIT_VERSION,
  better: FIT_BETTER,
  label: 'Resize',
  hint: 'Scales everything to another size: by a factor, to a side, or to a number of texels to a metre of the card.',
  defaults: { by: 'factor', factor: 0.5, side: 1024, density: 2048, sides: 'any size', filter: 'Lanczos' },
  ranges: {
    factor: { min: 0.05, max: 4, logarithmic: true },
    side: { min: 1, max: 16384, step: 1, digits: 0, unit: 'texels' },
    density: { min: 1, max: 100_000, digits: 0, logarithmic: true },
  },
  inMillimetres: true,
  pullsMask: false,
  sizeAtMost({ width, height, perMetre }, { by, factor, side, density, sides }) {
    const times = by === 'factor' ? factor : by === 'longer side' ? side / Math.max(width, height) : density / perMetre;
    return { width: sideOf(Math.round(width * times), sides), height: sideOf(Math.round(height * times), sides) };
  },
  apply(state, { by, factor, side, density, sides, filter }, env) {
    const frame = frameOf(state, env.scale);
    const longer = Math.max(frame.width, frame.height);
    const own = 1000 / (env.texelMm * env.scale);
    const times = by === 'factor' ? factor : by === 'longer side' ? side / longer : density / own;
    const width = sideOf(Math.round(frame.width * times), sides);
    const height = sideOf(Math.round(frame.height * times), sides);
    const [xx, yy] = [frame.width / width, frame.height / height];
    const placing = { width, height, xx, xy: 0, x0: 0, yx: 0, yy, y0: 0 };
    const now = Math.round((own * width) / frame.width);
    return {
      ...laid(state, placing, filter, env),
      notice: `${width} × ${height}, ${now} texels per metre of the card (${Math.round(own)} before).`,
    };
  },
};
