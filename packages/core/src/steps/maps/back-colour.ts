import { makePicture } from '../../raster/raster.ts';
import type { StepKind } from '../step.ts';
import { pictureAs } from './colour-map.ts';

export interface BackColourParams {
  /** Empty: the colour as it comes into the step. */
  sourceId: string;
  fit: 'refuse' | 'scale';
  /** How far towards grey of the same luma, and towards white; 0 leaves the colour. */
  pale: number;
  lighter: number;
}

/** Luma of Rec. 709 in 65,536ths, of encoded values. */
const LUMA = [13933, 46871, 4732] as const;

export const backColour: StepKind<BackColourParams> = {
  stretch: 'maps',
  purpose: 'values',
  label: 'Back colour',
  hint: 'The colour of the underside, from another picture or paler than the front: for cards whose back is geometry.',
  defaults: { sourceId: '', fit: 'refuse', pale: 0.4, lighter: 0.15 },
  ranges: { pale: { min: 0, max: 1 }, lighter: { min: 0, max: 1 } },
  makes: 'backColour',
  pullsMask: false,
  reads: ({ sourceId, fit }) =>
    sourceId ? [{ id: sourceId, as: 'colour', otherSize: fit === 'scale' ? 'scaled' : 'refused' }] : [],
  apply({ colour }, params, env) {
    const from = pictureAs(colour, params, env);
    const { width, height } = colour;
    const out = env.allocate(4 * width * height);
    const [pale, lighter] = [Math.round(256 * params.pale), Math.round(256 * params.lighter)];
    const { data } = from;
    env.bands(height, (y0, y1) => {
      for (let i = 4 * y0 * width, end = 4 * y1 * width; i < end; i += 4) {
        const luma = (LUMA[0] * data[i] + LUMA[1] * data[i + 1] + LUMA[2] * data[i + 2] + 32768) >> 16;
        for (let k = i; k < i + 3; k++) {
          const v = 256 * data[k] + pale * (luma - data[k]); // of 256ths
          out[k] = (256 * v + lighter * (65280 - v) + 32768) >> 16;
        }
        out[i + 3] = 255;
      }
    });
    return { maps: new Map([['backColour', makePicture(width, height, out)]]) };
  },
};
