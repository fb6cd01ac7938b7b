import { luminanceOfWord } from '../colour/luminance.ts';
import { lightnessOf } from '../colour/oklab-table.ts';
import { SieveError } from '../errors.ts';
import { asWords, makeMask, type Mask, type Picture } from '../raster/raster.ts';
import { resize } from '../raster/resize.ts';
import type { SourceRead, StepEnv, StepKind } from './step.ts';

export const CHANNELS = [
  'red',
  'green',
  'blue',
  'alpha',
  'luminance',
  'lightness',
  'saturation',
  'largest',
  'smallest',
] as const;
export type Channel = (typeof CHANNELS)[number];

export interface FromChannelParams {
  /** Which source; empty: the colour picture. */
  sourceId: string;
  channel: Channel;
  /** What to do with a source of another size than the colour picture. */
  fit: 'refuse' | 'scale';
}

export const FROM_CHANNEL_DEFAULTS: FromChannelParams = { sourceId: '', channel: 'alpha', fit: 'refuse' };

/** The mask is a channel of a source, or a measure of its colour; luminance with Rec. 709 weights on encoded values. */
export const fromChannel: StepKind<FromChannelParams> = {
  stretch: 'mask',
  purpose: 'pull',
  label: 'From channel',
  hint: 'Takes one channel of a picture as the mask: white is kept, black is dropped.',
  defaults: FROM_CHANNEL_DEFAULTS,
  ranges: {},
  pointwise: () => true,
  pullsMask: true,
  reads: (params) => readOfFit(params),
  apply(state, params, env) {
    const { colour } = state;
    const source = env.asData(params.sourceId ? env.source(params.sourceId) : colour);
    const mask = extractChannel(source, params.channel, env);
    return { mask: fitted(mask, colour, params, env) };
  },
};

/** How a source is read that may be scaled to fit. */
export function readOfFit({ sourceId, fit }: Pick<FromChannelParams, 'sourceId' | 'fit'>): SourceRead[] {
  return sourceId ? [{ id: sourceId, as: 'data', otherSize: fit === 'scale' ? 'scaled' : 'refused' }] : [];
}

/** One channel of RGBA as a mask. */
export function extractChannel(source: Picture, channel: Channel, env: Pick<StepEnv, 'allocate' | 'bands'>): Mask {
  const { width, height } = source;
  const words = asWords(source.data);
  const out = env.allocate(width * height);
  const weigh = WEIGHERS[channel];
  const quads = new Uint32Array(out.buffer, out.byteOffset, out.length >> 2);
  const byQuads = (fill: (from: number, to: number) => void) =>
    env.bands(height, (y0, y1) => fill((y0 * width) >> 2, (y1 * width) >> 2));
  if (channel === 'luminance') {
    byQuads((from, to) => luminanceQuads(words, quads, from, to));
    luminance(words, out, quads.length << 2, out.length);
  } else if (weigh) env.bands(height, (y0, y1) => weigh(words, out, y0 * width, y1 * width));
  else {
    const shift = 8 * CHANNELS.indexOf(channel);
    byQuads((from, to) => pick(words, shift, quads, from, to));
    for (let i = quads.length << 2; i < out.length; i++) out[i] = words[i] >>> shift;
  }
  return makeMask(width, height, out);
}

/** Four texels to a word: one store instead of four. */
function pick(words: Uint32Array, shift: number, out: Uint32Array, from: number, to: number): void {
  for (let i = from, k = 4 * from; i < to; i++, k += 4) {
    out[i] =
      ((words[k] >>> shift) & 255) |
      (((words[k + 1] >>> shift) & 255) << 8) |
      (((words[k + 2] >>> shift) & 255) << 16) |
      ((words[k + 3] >>> shift) << 24);
  }
}

/** Luminance of four texels to a word. */
function luminanceQuads(words: Uint32Array, out: Uint32Array, from: number, to: number): void {
  for (let i = from, k = 4 * from; i < to; i++, k += 4) {
    const low = luminanceOfWord(words[k]) | (luminanceOfWord(words[k + 1]) << 8);
    out[i] = low | (luminanceOfWord(words[k + 2]) << 16) | (luminanceOfWord(words[k + 3]) << 24);
  }
}

type Weigher = (words: Uint32Array, out: Uint8Array, from: number, to: number) => void;

function luminance(words: Uint32Array, out: Uint8Array, from: number, to: number): void {
  for (let i = from; i < to; i++) out[i] = luminanceOfWord(words[i]);
}

/** OKLab lightness: as the eye sees steps of grey, in full where the colour is strong. */
function lightness(words: Uint32Array, out: Uint8Array, from: number, to: number): void {
  let last = -1; // neighbours repeat on scans and painted pictures
  let value = 0;
  for (let i = from; i < to; i++) {
    const rgb = words[i] & 0xffffff;
    if (rgb !== last) {
      last = rgb;
      value = Math.floor(lightnessOf(rgb) * 255 + 0.5);
    }
    out[i] = value;
  }
}

/** Largest less smallest over largest, as in HSV: 0 for grey, 255 for pure colours. */
function saturation(words: Uint32Array, out: Uint8Array, from: number, to: number): void {
  for (let i = from; i < to; i++) {
    const w = words[i];
    const high = largestOf(w);
    out[i] = high === 0 ? 0 : (255 * (high - smallestOf(w))) / high + 0.5;
  }
}

function largest(words: Uint32Array, out: Uint8Array, from: number, to: number): void {
  for (let i = from; i < to; i++) out[i] = largestOf(words[i]);
}

function smallest(words: Uint32Array, out: Uint8Array, from: number, to: number): void {
  for (let i = from; i < to; i++) out[i] = smallestOf(words[i]);
}

function largestOf(w: number): number {
  const r = w & 255;
  const g = (w >>> 8) & 255;
  const b = (w >>> 16) & 255;
  const rg = r > g ? r : g;
  return rg > b ? rg : b;
}

function smallestOf(w: number): number {
  const r = w & 255;
  const g = (w >>> 8) & 255;
  const b = (w >>> 16) & 255;
  const rg = r < g ? r : g;
  return rg < b ? rg : b;
}

const WEIGHERS: Partial<Record<Channel, Weigher>> = { luminance, lightness, saturation, largest, smallest };

/**
 * The mask of a source on the colour picture: as it is, placed where the source has a place (nothing is kept outside of
 * it), or scaled.
 *
 * @throws {@link SieveError} `size-mismatch`
 */
export function fitted(
  mask: Mask,
  colour: Picture,
  { sourceId, fit }: Pick<FromChannelParams, 'sourceId' | 'fit'>,
  env: StepEnv,
): Mask {
  const place = env.placeOf(sourceId);
  if (place) return placed(mask, colour, Math.round(place.x * env.scale), Math.round(place.y * env.scale), env);
  if (mask.width === colour.width && mask.height === colour.height) return mask;
  if (fit === 'scale') return resize(mask, colour.width, colour.height, env.allocate);
  throw new SieveError(
    'size-mismatch',
    `The mask picture and the colour picture differ in size.`,
    'Choose “scale to fit” in this step, or bring in a mask of the same size.',
  );
}

function placed(mask: Mask, { width, height }: Picture, x: number, y: number, env: StepEnv): Mask {
  const out = env.allocate(width * height);
  const from = Math.max(0, -x);
  const columns = Math.min(mask.width - from, width - Math.max(0, x));
  for (let row = Math.max(0, -y); row < mask.height && row + y < height && columns > 0; row++) {
    const start = row * mask.width + from;
    out.set(mask.data.subarray(start, start + columns), (row + y) * width + Math.max(0, x));
  }
  return makeMask(width, height, out);
}
