import { blurValues } from '../../mask/blur.ts';
import { allocate16, makeMask, type Mask } from '../../raster/raster.ts';
import type { RunState } from '../../raster/run-state.ts';
import type { Heights } from '../../relief/normals.ts';
import type { StepEnv, StepKind } from '../step.ts';
import { LEVEL_HEIGHT } from './heights.ts';

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

/** What no stroke has touched, where strokes go both ways. */
const UNTOUCHED = 128;

/** The mask that strokes of the step are drawn on. */
export function handPlain(
  { does }: Pick<HeightByHandParams, 'does'>,
  width: number,
  height: number,
  data: Uint8Array,
): Mask {
  return makeMask(width, height, data.fill(does === 'smooth' ? 0 : UNTOUCHED));
}

/** Heights before the step, and what a drawn value makes of each: 0–65535. */
export function handHeights(
  state: Pick<RunState, 'mask' | 'maps'>,
  { does, by, radius }: HeightByHandParams,
  env: Pick<StepEnv, 'bands' | 'scale'>,
): { before: Uint16Array; after: (i: number, drawn: number) => number } {
  const { width, height } = state.mask;
  const before =
    (state.maps.get('height') as Heights | undefined)?.data ?? new Uint16Array(width * height).fill(LEVEL_HEIGHT);
  if (does === 'smooth') {
    const soft = blurValues({ width, height, data: before }, Math.max(0.4, radius * env.scale), env);
    return { before, after: (i, drawn) => before[i] + ((soft[i] - before[i]) * drawn) / 255 };
  }
  const unit = (65535 * by) / 127;
  return { before, after: (i, drawn) => Math.min(65535, Math.max(0, before[i] + (drawn - UNTOUCHED) * unit)) };
}

export const heightByHand: StepKind<HeightByHandParams> = {
  stretch: 'maps',
  purpose: 'height',
  label: 'Height: by hand',
  hint: 'Raise, lower or smooth the heights with brushes, outlines and regions.',
  defaults: { strokes: [], does: 'raise and lower', by: 0.25, radius: 8 },
  ranges: {
    by: { min: 0.01, max: 1 },
    radius: { min: 1, max: 128, digits: 0, unit: 'texels', logarithmic: true },
  },
  makes: 'height',
  pullsMask: false,
  apply(state, params, env) {
    if (params.strokes.length === 0) return {};
    const { width, height } = state.mask;
    const drawn = env.paintStrokes(params.strokes, handPlain(params, width, height, env.allocate(width * height))).data;
    const { after } = handHeights(state, params, env);
    const out = allocate16(width * height, env.allocate);
    env.bands(height, (y0, y1) => {
      for (let i = y0 * width; i < y1 * width; i++) out[i] = after(i, drawn[i]) + 0.5;
    });
    return { maps: new Map([['height', { width, height, channels: 1, data: out }]]) };
  },
};
