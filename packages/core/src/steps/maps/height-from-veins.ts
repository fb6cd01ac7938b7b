import { ridges } from '../../relief/ridges.ts';
import { PICTURE_VALUES_DEFAULTS, pictureValues, readsValues, type PictureValues } from '../picture-values.ts';
import type { Mask } from '../../raster/raster.ts';
import type { StepEnv, StepKind } from '../step.ts';
import { blendHeights, HEIGHT_BLENDING, WEIGHT_RANGE, type HeightBlending } from './heights.ts';

export const VEIN_TONES = ['lighter', 'darker'] as const;
export type VeinTone = (typeof VEIN_TONES)[number];

export interface HeightFromVeinsParams extends PictureValues, HeightBlending {
  /** Whether veins are lighter or darker than what they run through. */
  veins: VeinTone;
  /** Width of a vein, texels. */
  width: number;
  /** How strongly a faint vein shows. */
  gain: number;
  /** 1 raises veins, −1 sinks them. */
  lift: number;
}

export const heightFromVeins: StepKind<HeightFromVeinsParams> = {
  stretch: 'maps',
  purpose: 'height',
  label: 'Height: veins',
  hint: 'Finds lines of about a width in the picture, and raises or sinks them: veins, seams, threads.',
  defaults: {
    ...PICTURE_VALUES_DEFAULTS,
    ...HEIGHT_BLENDING,
    blend: 'add',
    veins: 'lighter',
    width: 8,
    gain: 4,
    lift: 0.5,
  },
  ranges: {
    width: { min: 1, max: 128, digits: 1, unit: 'texels', logarithmic: true },
    gain: { min: 0.1, max: 40, logarithmic: true },
    lift: { min: -1, max: 1 },
    weight: WEIGHT_RANGE,
  },
  makes: 'height',
  pullsMask: false,
  reads: readsValues,
  apply(state, params, env) {
    const { veins, width, gain } = params;
    const found = veinsIn(pictureValues(state, params, env), veins, width * env.scale, gain, env);
    const more = (i: number) => 0.5 + 0.5 * params.lift * found[i];
    return { maps: new Map([['height', blendHeights(state, params, env, more)]]) };
  },
};

/**
 * How much of a vein each texel is, 0–1.
 *
 * @param width - Of a vein, in texels of the values.
 */
export function veinsIn(
  values: Mask,
  veins: HeightFromVeinsParams['veins'],
  width: number,
  gain: number,
  env: Pick<StepEnv, 'bands'>,
): Float32Array {
  const found = ridges(values, Math.max(0.5, width / 2), veins === 'lighter' ? 1 : -1, env);
  const unit = gain / 255;
  for (let i = 0; i < found.length; i++) {
    const v = found[i] * unit;
    found[i] = v > 1 ? 1 : v;
  }
  return found;
}
