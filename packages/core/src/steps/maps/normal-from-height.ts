import { allocate16 } from '../../raster/raster.ts';
import { normalsOf } from '../../relief/normals.ts';
import type { StepKind } from '../step.ts';
import { heightsOf } from './heights.ts';

export interface NormalFromHeightParams {
  /** Height from black to white, millimetres. */
  depth: number;
}

/** From black to white of a height map; the same wherever heights are read. */
export const DEPTH_RANGE = { min: 0.01, max: 500, digits: 2, unit: 'mm', logarithmic: true } as const;
export const DEPTH_DEFAULT = 3;

export const normalFromHeight: StepKind<NormalFromHeightParams> = {
  stretch: 'maps',
  purpose: 'normal',
  label: 'Normal: height',
  hint: 'Surface normals from the height map; its depth is in millimetres, to scale with the card.',
  defaults: { depth: DEPTH_DEFAULT },
  ranges: { depth: DEPTH_RANGE },
  version: 2,
  better: 'Directions at the border are those of the surface there: before, it was taken to go on level.',
  inMillimetres: true,
  makes: 'normal',
  pullsMask: false,
  apply(state, { depth }, env) {
    const heights = heightsOf(state);
    const out = allocate16(3 * heights.width * heights.height, env.allocate);
    return { maps: new Map([['normal', normalsOf(heights, depth / env.texelMm, env, out, env.version < 2)]]) };
  },
};
