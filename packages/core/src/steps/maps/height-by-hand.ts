import { blurValues } from '../../mask/blur.ts';
import { makeMask } from '../../raster/raster.ts';
import type { StepKind } from '../step.ts';
import { blendHeights, LEVEL_HEIGHT } from './heights.ts';

export const HAND_DOES = ['raise and lower', 'smooth'] as const;
export type HandDoes = (typeof HAND_DOES)[number];

export interface HeightByHandParams {
  /** Ids of what was done by hand: restoring strokes raise or smooth, cutting ones lower or leave. */
  strokes: string[];
  does: HandDoes;
  /** Height that a full stroke adds or takes. */
  by: number;
  /** How far a full stroke smooths, texels. */
  radius: number;
}

/** What no stroke has touched. */
const UNTOUCHED = 128;

export const heightByHand: StepKind<HeightByHandParams> = {
  stretch: 'maps',
  purpose: 'height',
  label: 'Height by hand',
  hint: 'Raise, lower or smooth the heights with brushes, outlines and regions.',
  defaults: { strokes: [], does: 'raise and lower', by: 0.25, radius: 8 },
  ranges: {
    by: { min: 0.01, max: 1 },
    radius: { min: 1, max: 128, digits: 0, unit: 'texels', logarithmic: true },
  },
  pullsMask: false,
  apply(state, { strokes, does, by, radius }, env) {
    if (strokes.length === 0) return {};
    const { width, height } = state.mask;
    const smooths = does === 'smooth';
    const plain = makeMask(width, height, env.allocate(width * height).fill(smooths ? 0 : UNTOUCHED));
    const { data } = env.paintStrokes(strokes, plain);
    const own = state.maps.get('height');
    const heights = own?.data ?? new Uint16Array(width * height).fill(LEVEL_HEIGHT);
    if (smooths) {
      const soft = blurValues({ width, height, data: heights }, Math.max(0.4, radius * env.scale), env);
      const more = (i: number) => (heights[i] + ((soft[i] - heights[i]) * data[i]) / 255) / 65535;
      return { maps: new Map([['height', blendHeights(state, { blend: 'replace', weight: 1 }, env, more)]]) };
    }
    const unit = by / 127;
    const more = (i: number) => heights[i] / 65535 + (data[i] - UNTOUCHED) * unit;
    return { maps: new Map([['height', blendHeights(state, { blend: 'replace', weight: 1 }, env, more)]]) };
  },
};
