import { makeMask } from '../raster/raster.ts';
import { extractChannel, fitted, readOfFit } from './from-channel.ts';
import type { StepKind } from './step.ts';

export interface CutBelowParams {
  /** Source that holds heights as its luminance; empty: the colour picture. */
  sourceId: string;
  fit: 'refuse' | 'scale';
  /** Height, 0–1, below which all is dropped. */
  at: number;
  /** Width of the ramp around it. */
  softness: number;
}

export const cutBelow: StepKind<CutBelowParams> = {
  stretch: 'mask',
  purpose: 'cut',
  label: 'Cut below',
  hint: 'Drops everything under a height, read from the luminance of a height picture; the rest stays.',
  defaults: { sourceId: '', fit: 'refuse', at: 0.5, softness: 0.02 },
  ranges: { at: { min: 0, max: 1, step: 0.005, digits: 3 }, softness: { min: 0, max: 1, step: 0.005, digits: 3 } },
  pointwise: () => true,
  pullsMask: false,
  reads: (params) => readOfFit(params),
  apply({ colour, mask }, { sourceId, fit, at, softness }, env) {
    const source = env.asData(sourceId ? env.source(sourceId) : colour);
    const heights = fitted(extractChannel(source, 'luminance', env), colour, { sourceId, fit }, env).data;
    const gain = 255 / Math.max(softness, 1e-6);
    const ramp = Uint8Array.from({ length: 256 }, (_, v) =>
      Math.min(255, Math.max(0, Math.floor(128 + (v / 255 - at) * gain))),
    );
    const { width, height, data } = mask;
    const out = env.allocate(data.length);
    env.bands(height, (y0, y1) => lower(data, heights, ramp, out, y0 * width, y1 * width));
    return { mask: makeMask(width, height, out) };
  },
};

function lower(
  own: Uint8Array,
  heights: Uint8Array,
  ramp: Uint8Array,
  out: Uint8Array,
  from: number,
  to: number,
): void {
  for (let i = from; i < to; i++) {
    const limit = ramp[heights[i]];
    out[i] = own[i] < limit ? own[i] : limit;
  }
}
