import { SieveError } from '../../errors.ts';
import { allocate16 } from '../../raster/raster.ts';
import type { StepKind } from '../step.ts';

export const NORMAL_TURNS = ['green upside down', 'seen from the back'] as const;
export type NormalTurn = (typeof NORMAL_TURNS)[number];

export interface FlipNormalsParams {
  /** The other way of green, for a map that came in the wrong way; or left and right swapped, as the back side has it. */
  turn: NormalTurn;
}

export const flipNormals: StepKind<FlipNormalsParams> = {
  stretch: 'maps',
  purpose: 'normal',
  label: 'Normal: flip',
  hint: 'Turns green upside down, or swaps left and right as the back of the card has them.',
  defaults: { turn: 'green upside down' },
  ranges: {},
  makes: 'normal',
  pullsMask: false,
  apply({ maps }, { turn }, env) {
    const before = maps.get('normal');
    if (!before)
      throw new SieveError('missing-normals', 'There is no normal map yet.', 'Insert a normal step before this one.');
    const { width, height, data } = before;
    const out = allocate16(data.length, env.allocate);
    out.set(data);
    for (let i = turn === 'seen from the back' ? 0 : 1; i < out.length; i += 3)
      out[i] = Math.min(65535, 65536 - out[i]);
    return { maps: new Map([['normal', { width, height, channels: 3, data: out }]]) };
  },
};
