import { blurValues } from '../../mask/blur.ts';
import { depthInside } from '../../mask/depth.ts';
import { lowRow, type LowFrequencies } from '../../mask/low-frequencies.ts';
import { cosine, sine } from '../../math/trigonometry.ts';
import type { MapName } from '../../raster/maps.ts';
import type { Mask, Picture } from '../../raster/raster.ts';
import type { RunState } from '../../raster/run-state.ts';
import { halvingsTo } from '../../raster/shrink.ts';
import { localThickness } from '../../relief/local-thickness.ts';
import { roughSky } from '../../relief/occlusion.ts';
import { openSky } from '../../relief/open-sky.ts';
import { EARLIER_SIGHT } from '../../relief/sky-ways.ts';
import { halveMask } from '../../sieve/mips.ts';
import { pictureValues, wideValues, type PictureValues } from '../picture-values.ts';
import type { StepEnv } from '../step.ts';
import { veinsIn } from './height-from-veins.ts';
import { heightsOf } from './heights.ts';
import { mapRows } from './read-map.ts';

export const VALUE_RECIPES = [
  'one value',
  'channel',
  'another map',
  'height',
  'fine detail',
  'cavities',
  'edges',
  'gradient',
  'open sky',
  'thickness',
  'thin parts',
] as const;
export type ValueRecipe = (typeof VALUE_RECIPES)[number];

/** Parameters of every map of one value a texel. What a recipe does not use is kept for when it is chosen again. */
export interface ValueMapParams extends PictureValues {
  from: ValueRecipe;
  /** For the recipe of another map. */
  map: MapName;
  /** For the recipe of one value. */
  value: number;
  /** How far around a texel is looked, texels. */
  reach: number;
  /** Height from black to white, millimetres. */
  depth: number;
  /** As thick as this is white, millimetres. */
  full: number;
  /** How much veins of the picture darken thin parts. */
  veins: number;
  /** The way in which a gradient grows: 0 to the right, 90 up. */
  angle: number;
  /** Added to the values, then the gain spreads them around the middle. */
  offset: number;
  gain: number;
  /** What the darkest and the lightest become. */
  low: number;
  high: number;
  inverted: boolean;
}

/** Fills the row y of the map with values 0–1. */
type RowOf = (y: number, row: Float32Array) => void;
type Recipe = (state: RunState, params: ValueMapParams, env: StepEnv) => RowOf;

/** What a map of one value may be made of. */
export const RECIPES: Record<ValueRecipe, Recipe> = {
  'one value':
    (_state, { value }) =>
    (_y, row) =>
      row.fill(value),
  channel: (state, params, env) => scaled(wideValues(state, params, env), 1 / 65535),
  'another map': mapRows,
  height: (state) => scaled(heightsOf(state).data, 1 / 65535),
  'fine detail'(state, params, env) {
    const values = pictureValues(state, params, env);
    const sigma = Math.max(0.5, params.reach * env.scale);
    const soft = blurValues(values, sigma, env);
    const away = soft.map((v, i) => Math.abs(values.data[i] - v));
    const { width, height } = values;
    return scaled(blurValues({ width, height, data: away }, sigma, env), 1 / DETAIL_FULL);
  },
  cavities(state, { reach }, env) {
    const { width, height, data } = heightsOf(state);
    const soft = blurValues({ width, height, data }, Math.max(0.5, reach * env.scale), env);
    return (y, row) => {
      for (let x = 0, i = y * width; x < width; x++, i++) row[x] = ((soft[i] - data[i]) / 65535) * CAVITY_GAIN;
    };
  },
  edges({ mask }, { reach }, env) {
    const most = Math.max(1, reach * env.scale);
    const fromEdge = scaled(depthInside(mask, most, env), 1 / most);
    return (y, row) => {
      fromEdge(y, row);
      for (let x = 0; x < row.length; x++) row[x] = 1 - row[x];
    };
  },
  gradient({ mask: { width, height } }, { angle }) {
    const [across, up] = [cosine(angle), sine(angle)];
    const reach = (Math.abs(across) * width + Math.abs(up) * height) / 2;
    return (y, row) => {
      const start = (height / 2 - y - 0.5) * up + (0.5 - width / 2) * across;
      for (let x = 0; x < width; x++) row[x] = 0.5 + (start + x * across) / (2 * reach);
    };
  },
  'open sky'(state, { depth, reach }, env) {
    const read = [heightsOf(state), state.mask, depth / env.texelMm, Math.max(1, reach * env.scale)] as const;
    const rough = (most?: number) => roughSky(...read, env, most);
    const exact = () => openSky(...read, env, env.version < 3 ? EARLIER_SIGHT : undefined);
    const sky = env.scale < 1 ? rough(VIEW_CELLS) : env.version < 2 ? rough() : exact();
    return scaled(sky, 1 / 65535);
  },
  thickness({ mask }, { full }, env) {
    const most = Math.max(1, full / env.texelMm);
    const halvings = halvingsTo(env.scale < 1 ? VIEW_SIDE : THICKNESS_SIDE, mask);
    let small = mask;
    for (let k = 0; k < halvings; k++) small = halveMask(small, env.allocate);
    const least = most / 2 ** halvings;
    const wide = soften(localThickness(small, least, env), small, least * THICKNESS_BLUR, env);
    const { width, height } = small;
    const share = wide.map((v) => v / least);
    if (halvings === 0) return scaled(share, 1);
    return (y, row) => lowRow({ width, height, values: share }, y, mask, row);
  },
  'thin parts'(state, params, env) {
    const thick = RECIPES.thickness(state, params, env);
    const veins = params.veins === 0 ? null : lightVeins(state, params, env);
    const found = new Float32Array(state.mask.width);
    return (y, row) => {
      thick(y, row);
      for (let x = 0; x < row.length; x++) row[x] = 1 - row[x];
      if (!veins) return;
      lowRow(veins, y, state.mask, found);
      darken(row, found, params.veins);
    };
  },
};

/** Values of a whole picture, times a factor. */
function scaled(values: Float32Array | Uint16Array, factor: number): RowOf {
  return (y, row) => {
    for (let x = 0, i = y * row.length; x < row.length; x++, i++) row[x] = values[i] * factor;
  };
}

function darken(row: Float32Array, by: Float32Array, amount: number): void {
  for (let x = 0; x < row.length; x++) row[x] *= 1 - amount * by[x];
}

/**
 * Lighter veins of the picture, 0–1. At view size they are found on half of it, and once for a picture: while a slider
 * is dragged they stay the same.
 */
function lightVeins(state: RunState, params: ValueMapParams, env: StepEnv): LowFrequencies {
  if (env.scale === 1) return veinsOf(pictureValues(state, params, env), VEIN_WIDTH, env);
  const { sourceId, channel, fit } = params;
  const picture = sourceId ? env.asData(env.source(sourceId)) : state.colour;
  const key = [channel, fit, state.colour.width, state.colour.height, env.scale].join();
  const known = veinsFound.get(picture);
  if (known?.key === key) return known.veins;
  const half = halveMask(pictureValues(state, params, env), env.allocate);
  const veins = veinsOf(half, (VEIN_WIDTH * env.scale) / 2, env);
  veinsFound.set(picture, { key, veins });
  return veins;
}

const veinsFound = new WeakMap<Picture, { key: string; veins: LowFrequencies }>();

function veinsOf(values: Mask, width: number, env: StepEnv): LowFrequencies {
  return { width: values.width, height: values.height, values: veinsIn(values, 'lighter', width, VEIN_GAIN, env) };
}

/** Longer side above which thickness is measured on a smaller mask, whose covers tell the same widths. */
const THICKNESS_SIDE = 2048;
/** At view size, for a first answer while a slider is dragged. */
const VIEW_SIDE = 256;
const VIEW_CELLS = VIEW_SIDE * VIEW_SIDE;
/** Parts go over into each other within this share of a full thickness. */
const THICKNESS_BLUR = 1 / 12;

/** Blurred over what is kept alone. */
function soften(values: Float32Array, { width, height, data }: Mask, sigma: number, env: StepEnv): Float32Array {
  if (sigma < 0.4) return values;
  const own = values.map((v, i) => (v * data[i]) / 255);
  const sums = blurValues({ width, height, data: own }, sigma, env);
  const covers = blurValues({ width, height, data }, sigma, env);
  return sums.map((v, i) => (values[i] > 0 && covers[i] > 1 ? (255 * v) / covers[i] : 0));
}

/** Mean difference from the surroundings, of 255, that counts as rough all over. */
const DETAIL_FULL = 32;
/** A hollow a tenth of the whole depth below its surroundings is white. */
const CAVITY_GAIN = 10;
const VEIN_WIDTH = 6;
const VEIN_GAIN = 6;
