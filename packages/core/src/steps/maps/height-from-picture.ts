import { blurValues } from '../../mask/blur.ts';
import { PICTURE_VALUES_DEFAULTS, readsValues, wideValues, type PictureValues } from '../picture-values.ts';
import type { StepKind } from '../step.ts';
import { evenSteps, hasSteps } from '../../relief/even-steps.ts';
import { blendHeights, HEIGHT_BLENDING, WEIGHT_RANGE, type HeightBlending } from './heights.ts';

export interface HeightFromPictureParams extends PictureValues, HeightBlending {
  /** Shapes wider than this are large, finer ones detail. */
  split: number;
  /** How much of each goes into the height; below 0 it is turned over. */
  large: number;
  detail: number;
  /** Evens out steps between neighbouring values, texels. */
  smooth: number;
}

export const heightFromPicture: StepKind<HeightFromPictureParams> = {
  stretch: 'maps',
  purpose: 'height',
  label: 'Height: picture',
  hint: 'Heights from the luminance or a channel of the picture, or from a height picture, with large shapes and detail set apart.',
  defaults: { ...PICTURE_VALUES_DEFAULTS, ...HEIGHT_BLENDING, split: 24, large: 1, detail: 1, smooth: 0 },
  ranges: {
    split: { min: 1, max: 512, digits: 0, unit: 'texels', logarithmic: true },
    large: { min: -2, max: 2 },
    detail: { min: -4, max: 4 },
    smooth: { min: 0, max: 32, step: 0.25, unit: 'texels' },
    weight: WEIGHT_RANGE,
  },
  version: 3,
  better: 'Pictures of 8 bits give even slopes up to the border, where normals saw a terrace at each of their steps.',
  makes: 'height',
  pullsMask: false,
  reads: readsValues,
  apply(state, params, env) {
    const { width, height } = state.colour;
    const { split, large, detail, smooth } = params;
    const read = { width, height, channels: 1 as const, data: wideValues(state, params, env) };
    const own =
      env.version >= 2 && hasSteps(read.data) ? { width, height, data: evenSteps(read, env.version >= 3, env) } : read;
    const fine = smooth > 0 ? blurValues(own, smooth * env.scale, env) : own.data;
    const apart = large !== detail;
    const wide = apart ? blurValues(own, Math.max(0.4, split * env.scale), env) : null;
    const unit = 1 / 65535;
    const joined = wide
      ? (i: number) => 0.5 + (large * (wide[i] - 32767.5) + detail * (fine[i] - wide[i])) * unit
      : (i: number) => 0.5 + large * (fine[i] - 32767.5) * unit;
    return { maps: new Map([['height', blendHeights(state, params, env, joined)]]) };
  },
};
