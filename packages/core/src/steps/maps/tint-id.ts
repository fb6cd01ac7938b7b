import { regionMap } from '../../mask/region-map.ts';
import type { StepKind } from '../step.ts';

export interface TintIdParams {
  /** The grey of the first region, 1–255. */
  first: number;
}

/** Greys far apart for regions one after the other; prime to 255, so that 255 regions have greys of their own. */
const STRIDE = 97;

export const tintId: StepKind<TintIdParams> = {
  stretch: 'maps',
  purpose: 'values',
  label: 'Tint id',
  hint: 'A grey of its own for each blade or leaf that stands apart, by which a shader tints copies; the largest comes first.',
  defaults: { first: 60 },
  ranges: { first: { min: 1, max: 255, step: 1, digits: 0 } },
  makes: 'tintId',
  pullsMask: false,
  apply({ mask }, { first }, env) {
    const { width, height } = mask;
    const { count, regionOf } = regionMap(mask, env);
    const out = env.allocate(width * height);
    for (let i = 0; i < out.length; i++) out[i] = 1 + ((first - 1 + STRIDE * regionOf[i]) % 255);
    return {
      maps: new Map([['tintId', { width, height, channels: 1, data: out }]]),
      notice: wordsFor(count),
    };
  },
};

function wordsFor(parts: number): string {
  if (parts === 0) return 'The mask keeps nothing to number.';
  if (parts > 255) return `${parts} separate parts share 255 greys.`;
  return parts === 1 ? '1 separate part has a grey of its own.' : `${parts} separate parts have greys of their own.`;
}
