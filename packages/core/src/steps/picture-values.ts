import { REC709 } from '../colour/luminance.ts';
import type { Mask, Raster } from '../raster/raster.ts';
import type { RunState } from '../raster/run-state.ts';
import { extractChannel, fitted, readOfFit, type Channel } from './from-channel.ts';
import type { SourceRead, StepEnv } from './step.ts';

/** A channel or measure of a source, laid on the colour picture. */
export interface PictureValues {
  /** Empty: the colour as it comes into the step. */
  sourceId: string;
  channel: Channel;
  fit: 'refuse' | 'scale';
}

export const PICTURE_VALUES_DEFAULTS: PictureValues = { sourceId: '', channel: 'luminance', fit: 'refuse' };

/** The values as one byte a texel. Throws `size-mismatch`, `missing-source`. */
export function pictureValues({ colour }: RunState, { sourceId, channel, fit }: PictureValues, env: StepEnv): Mask {
  const source = sourceId ? env.asData(env.source(sourceId)) : colour;
  return fitted(extractChannel(source, channel, env), colour, { sourceId, fit }, env);
}

/**
 * The same as 16 bits: a source of 16 bits is read with all of them where it has the picture's size and the channel is
 * one of its own, or its luminance.
 */
export function wideValues(state: RunState, params: PictureValues, env: StepEnv): Uint16Array {
  const { width, height } = state.colour;
  const deep = params.sourceId ? env.deepSource(params.sourceId) : null;
  const read = deep && deep.width === width && deep.height === height ? deepChannel(deep, params.channel) : null;
  if (read) return read;
  const { data } = pictureValues(state, params, env);
  const out = new Uint16Array(width * height);
  for (let i = 0; i < out.length; i++) out[i] = data[i] * 257;
  return out;
}

function deepChannel({ width, height, channels, data }: Raster<Uint16Array>, channel: Channel): Uint16Array | null {
  const out = new Uint16Array(width * height);
  const own = ['red', 'green', 'blue', 'alpha'].indexOf(channel);
  if (channels <= 2) {
    const at = channel === 'alpha' ? 1 : 0;
    if (channel === 'saturation' || channel === 'lightness' || at >= channels) return null;
    for (let i = 0; i < out.length; i++) out[i] = data[channels * i + at];
    return out;
  }
  if (own >= 0 && own < channels) for (let i = 0; i < out.length; i++) out[i] = data[channels * i + own];
  else if (channel === 'luminance') {
    const { r, g, b } = REC709;
    for (let i = 0, k = 0; i < out.length; i++, k += channels) {
      out[i] = r * data[k] + g * data[k + 1] + b * data[k + 2] + 0.5;
    }
  } else return null;
  return out;
}

export const readsValues = (params: PictureValues): SourceRead[] => readOfFit(params);
