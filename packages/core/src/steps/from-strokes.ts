import type { TexelAt } from '../mask/connected.ts';
import { geodesicDistance } from '../matte/geodesic.ts';
import { makeMask } from '../raster/raster.ts';
import type { StepKind } from './step.ts';

/** A scribble on the Sheet: what lies under it is kept or dropped for sure. */
export interface Scribble {
  effect: 'keep' | 'drop';
  /** Half its width in texels. */
  radius: number;
  at: TexelAt[];
}

export interface FromStrokesParams {
  strokes: Scribble[];
  /** How much an edge of the picture counts against a plain way of the same length. */
  edges: number;
  softness: number;
}

/**
 * Every texel goes to the kind of scribble that is nearer along the picture, where a way across an edge is long:
 * geodesic distances (X. Bai, G. Sapiro 2007; A. Criminisi, T. Sharp, A. Blake, "GeoS: Geodesic Image Segmentation",
 * 2008).
 */
export const fromStrokes: StepKind<FromStrokesParams> = {
  stretch: 'mask',
  purpose: 'pull',
  label: 'From scribbles',
  hint: 'Scribble on what to keep and on what to drop: both spread up to the edges of the picture.',
  defaults: { strokes: [], edges: 60, softness: 1 },
  ranges: {
    edges: { min: 1, max: 400, step: 1, digits: 0, logarithmic: true },
    softness: { min: 0, max: 40, step: 0.5, digits: 1, unit: 'texels' },
  },
  pullsMask: true,
  apply({ colour, mask }, { strokes, edges, softness }, env) {
    const keep = strokes.filter((s) => s.effect === 'keep');
    const drop = strokes.filter((s) => s.effect === 'drop');
    if (keep.length === 0 || drop.length === 0) {
      const missing =
        keep.length > 0 ? 'what to drop' : drop.length > 0 ? 'what to keep' : 'what to keep and what to drop';
      return { notice: `Nothing changes yet: scribble on ${missing}.` };
    }
    const toKeep = geodesicDistance(colour, keep, edges, env);
    const toDrop = geodesicDistance(colour, drop, edges, env);
    const out = env.allocate(mask.data.length);
    const gain = 255 / Math.max(0.5, softness * env.scale);
    for (let i = 0; i < out.length; i++) {
      const v = (128 + (toDrop[i] - toKeep[i]) * gain) | 0;
      out[i] = v < 0 ? 0 : v > 255 ? 255 : v;
    }
    return { mask: makeMask(mask.width, mask.height, out) };
  },
};
