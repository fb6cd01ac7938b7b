import { SieveError } from '../../errors.ts';
import type { Heights } from '../../relief/normals.ts';
import { allocate16 } from '../../raster/raster.ts';
import type { RunState } from '../../raster/run-state.ts';
import type { StepEnv } from '../step.ts';

/** How new heights come onto those that are there. */
const RULES = {
  replace: (own: number, more: number, weight: number) => own + (more - own) * weight,
  add: (own: number, more: number, weight: number) => own + (more - 0.5) * weight,
  multiply: (own: number, more: number, weight: number) => own * (1 + (more - 1) * weight),
  'the higher': (own: number, more: number, weight: number) => own + (more > own ? (more - own) * weight : 0),
  'the lower': (own: number, more: number, weight: number) => own + (more < own ? (more - own) * weight : 0),
} as const;
export type HeightBlend = keyof typeof RULES;
export const HEIGHT_BLENDS = Object.keys(RULES) as HeightBlend[];

/** Parameters of every step that makes heights. */
export interface HeightBlending {
  blend: HeightBlend;
  /** 0 leaves the heights as they are. */
  weight: number;
}

export const HEIGHT_BLENDING: HeightBlending = { blend: 'replace', weight: 1 };
export const WEIGHT_RANGE = { min: 0, max: 1 } as const;

/** Heights of a run without any yet: the middle. */
export const LEVEL_HEIGHT = 32768;

/**
 * The map of heights with more of them blended in.
 *
 * @param more - Heights 0–1 of a texel, by its place.
 */
export function blendHeights(
  { colour: { width, height }, maps }: RunState,
  { blend, weight }: HeightBlending,
  env: StepEnv,
  more: (i: number) => number,
): Heights {
  const before = maps.get('height')?.data;
  const out = allocate16(width * height, env.allocate);
  const rule = before ? RULES[blend] : RULES.replace;
  const amount = before ? weight : 1; // there is nothing to blend with yet
  env.bands(height, (y0, y1) => {
    for (let i = y0 * width; i < y1 * width; i++) {
      const v = rule(before ? before[i] / 65535 : 0.5, more(i), amount);
      out[i] = v <= 0 ? 0 : v >= 1 ? 65535 : v * 65535 + 0.5;
    }
  });
  return { width, height, channels: 1, data: out };
}

/** @throws {@link SieveError} `missing-height` */
export function heightsOf({ maps }: RunState): Heights {
  const found = maps.get('height');
  if (!found) {
    throw new SieveError('missing-height', 'There is no height map yet.', 'Insert a height step before this one.');
  }
  return found as Heights;
}
