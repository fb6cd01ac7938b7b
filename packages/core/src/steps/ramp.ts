import { gradientLab, gradientWords, type GradientBlend, type Stop } from '../colour/gradient.ts';
import { fromLabRows, makeLabRows, toLabRows } from '../colour/lab-rows.ts';
import { SieveError } from '../errors.ts';
import { depthInside } from '../mask/depth.ts';
import { asWords, makePicture, type Picture } from '../raster/raster.ts';
import { CHANNELS } from './from-channel.ts';
import { pictureValues, readsValues } from './picture-values.ts';
import type { StepEnv, StepKind } from './step.ts';

export const RAMP_BYS = [...CHANNELS, 'distance from the edge'] as const;
export type RampBy = (typeof RAMP_BYS)[number];

export interface RampLook {
  stops: Stop[];
  blend: GradientBlend;
  /** The ramp gives the tint and its richness, the picture its lightness. */
  keepLightness: boolean;
  /** 0 leaves the picture, 1 is the ramp. */
  amount: number;
}

export interface RampParams extends RampLook {
  /** What decides the place on the ramp. */
  by: RampBy;
  /** Which source is read for it; empty: the colour. */
  sourceId: string;
  fit: 'refuse' | 'scale';
  /** For the distance from the edge: texels from the first colour to the last. */
  width: number;
}

export const MOST_STOPS = 32;

const LOOK: RampLook = {
  stops: [
    { at: 0, colour: [52, 66, 38] },
    { at: 0.55, colour: [126, 140, 72] },
    { at: 1, colour: [226, 214, 150] },
  ],
  blend: 'smooth',
  keepLightness: false,
  amount: 1,
};

/** Places on a ramp that a texel can have. */
const STEPS = 4096;

export const ramp: StepKind<RampParams> = {
  stretch: 'colour',
  purpose: 'recolour',
  label: 'Ramp',
  hint: 'Recolours by a ramp of colours, along a channel, the luminance, a height picture, or the distance from the edge.',
  defaults: { ...LOOK, by: 'luminance', sourceId: '', fit: 'refuse', width: 64 },
  ranges: {
    amount: { min: 0, max: 1 },
    width: { min: 1, max: 2048, digits: 0, unit: 'texels', logarithmic: true },
  },
  pullsMask: false,
  reads: (params) => (params.by === 'distance from the edge' ? [] : readsValues({ ...params, channel: params.by })),
  apply(state, params, env) {
    const { colour, mask } = state;
    if (params.by === 'distance from the edge') {
      const most = Math.max(1, params.width * env.scale);
      const depth = depthInside(mask, most, env);
      return { colour: recolour(colour, (i) => ((depth[i] * (STEPS - 1)) / most) | 0, params, env) };
    }
    const { data } = pictureValues(state, { ...params, channel: params.by }, env);
    if (isPlain(params)) return { colour: repainted(colour, data, params, env) };
    return { colour: recolour(colour, (i) => (data[i] * (STEPS - 1) * INTO_ONE + 0.5) | 0, params, env) };
  },
};

const INTO_ONE = 1 / 255;

/** The same by the map of heights, which stands in a later stretch. */
export const rampByHeight: StepKind<RampLook> = {
  ...ramp,
  stretch: 'maps',
  label: 'Ramp by height',
  hint: 'Recolours by a ramp of colours along the height map: low parts by its first colour, high ones by its last.',
  defaults: LOOK,
  ranges: { amount: { min: 0, max: 1 } },
  reads: () => [],
  apply(state, params, env) {
    const height = state.maps.get('height');
    if (!height)
      throw new SieveError('missing-height', 'There is no height map yet.', 'Insert a height step before this one.');
    const { data } = height;
    return { colour: recolour(state.colour, (i) => data[i] >> 4, params, env) };
  },
};

/** Whether the ramp's colours take the place of the picture's. */
const isPlain = ({ stops, amount, keepLightness }: RampLook) => stops.length > 0 && amount === 1 && !keepLightness;

/** The ramp's colours by bytes. */
function repainted(colour: Picture, bytes: Uint8Array, { stops, blend }: RampLook, env: StepEnv): Picture {
  const { width, height } = colour;
  const fine = gradientWords(stops, blend, STEPS);
  const words = Uint32Array.from({ length: 256 }, (_, v) => fine[Math.round((v * (STEPS - 1)) / 255)] & 0xffffff);
  const out = env.allocate(colour.data.length);
  const [from, to] = [asWords(colour.data), asWords(out)];
  const quads = new Uint32Array(bytes.buffer, bytes.byteOffset, bytes.length >> 2);
  env.bands(height, (y0, y1) => lookUp(from, quads, words, to, (y0 * width) >> 2, (y1 * width) >> 2));
  for (let i = quads.length << 2; i < bytes.length; i++) to[i] = (from[i] & ALPHA) | words[bytes[i]];
  return makePicture(width, height, out);
}

const ALPHA = 0xff000000 | 0;

/** Four texels to a word of places: a read instead of four. */
function lookUp(
  from: Uint32Array,
  quads: Uint32Array,
  words: Uint32Array,
  to: Uint32Array,
  start: number,
  end: number,
): void {
  for (let q = start, i = 4 * start; q < end; q++, i += 4) {
    const places = quads[q];
    to[i] = (from[i] & ALPHA) | words[places & 255];
    to[i + 1] = (from[i + 1] & ALPHA) | words[(places >>> 8) & 255];
    to[i + 2] = (from[i + 2] & ALPHA) | words[(places >>> 16) & 255];
    to[i + 3] = (from[i + 3] & ALPHA) | words[places >>> 24];
  }
}

/** @param placeOf - Step of the ramp of a texel, 0 … STEPS − 1. */
function recolour(colour: Picture, placeOf: (i: number) => number, look: RampLook, env: StepEnv): Picture {
  if (look.stops.length === 0 || look.amount === 0) return colour;
  const { width, height } = colour;
  const out = env.allocate(colour.data.length);
  const [from, to] = [asWords(colour.data), asWords(out)];
  const plain = isPlain(look);
  const places = new Uint16Array(width);
  const words = gradientWords(look.stops, look.blend, STEPS);
  const lab = gradientLab(look.stops, look.blend, STEPS);
  const row = makeLabRows(width);
  env.bands(height, (y0, y1) => {
    for (let y = y0; y < y1; y++) {
      const start = y * width;
      for (let x = 0; x < width; x++) places[x] = placeOf(start + x);
      if (plain) paintRow(places, words, from, to, start);
      else {
        toLabRows(from, start, start + width, row);
        mixRow(places, lab, look, row);
        fromLabRows(row, from, to, start, start + width);
      }
    }
  });
  return makePicture(width, height, out);
}

function paintRow(places: Uint16Array, words: Uint32Array, from: Uint32Array, to: Uint32Array, start: number): void {
  for (let x = 0, i = start; x < places.length; x++, i++) {
    to[i] = (from[i] & 0xff000000) | (words[places[x]] & 0xffffff);
  }
}

function mixRow(
  places: Uint16Array,
  ramp: { L: Float32Array; a: Float32Array; b: Float32Array },
  { keepLightness, amount }: RampLook,
  { L, a, b }: { L: Float32Array; a: Float32Array; b: Float32Array },
): void {
  for (let x = 0; x < places.length; x++) {
    const at = places[x];
    if (!keepLightness) L[x] += (ramp.L[at] - L[x]) * amount;
    a[x] += (ramp.a[at] - a[x]) * amount;
    b[x] += (ramp.b[at] - b[x]) * amount;
  }
}
