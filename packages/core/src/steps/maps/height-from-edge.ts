import { depthInside } from '../../mask/depth.ts';
import type { StepKind } from '../step.ts';
import { blendHeights, HEIGHT_BLENDING, WEIGHT_RANGE, type HeightBlending } from './heights.ts';

export const EDGE_PROFILES = ['round', 'straight', 'hollow'] as const;
export type EdgeProfile = (typeof EDGE_PROFILES)[number];

export interface HeightFromEdgeParams extends HeightBlending {
  /** From the edge to full height. */
  width: number;
  profile: EdgeProfile;
  /** Height at the edge; inside it rises to 1. */
  edge: number;
}

export const heightFromEdge: StepKind<HeightFromEdgeParams> = {
  stretch: 'maps',
  purpose: 'height',
  label: 'Height: edge',
  hint: 'Heights that rise from the edge of the mask inwards, like a pillow.',
  defaults: { ...HEIGHT_BLENDING, width: 48, profile: 'round', edge: 0 },
  ranges: {
    width: { min: 1, max: 2048, digits: 0, unit: 'texels', logarithmic: true },
    edge: { min: 0, max: 1 },
    weight: WEIGHT_RANGE,
  },
  makes: 'height',
  pullsMask: false,
  apply(state, params, env) {
    const most = Math.max(0.5, params.width * env.scale);
    const depth = depthInside(state.mask, most, env);
    const shape = SHAPES[params.profile];
    const more = (i: number) => params.edge + (1 - params.edge) * shape(depth[i] / most);
    return { maps: new Map([['height', blendHeights(state, params, env, more)]]) };
  },
};

/** Height by the share of the way in, 0–1: a quarter of a circle, a slope, a quarter of a circle hollowed out. */
const SHAPES: Record<EdgeProfile, (t: number) => number> = {
  round: (t) => Math.sqrt(Math.max(0, 1 - (1 - t) * (1 - t))),
  straight: (t) => t,
  hollow: (t) => 1 - Math.sqrt(Math.max(0, 1 - t * t)),
};
