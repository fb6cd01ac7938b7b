import type { MapName } from '../../raster/maps.ts';
import { PICTURE_VALUES_DEFAULTS, readsValues } from '../picture-values.ts';
import type { StepKind } from '../step.ts';
import { DEPTH_DEFAULT, DEPTH_RANGE } from './normal-from-height.ts';
import { RECIPES, type ValueMapParams, type ValueRecipe } from './value-recipes.ts';

const DEFAULTS: ValueMapParams = {
  ...PICTURE_VALUES_DEFAULTS,
  from: 'one value',
  map: 'mask',
  value: 0.5,
  reach: 32,
  depth: DEPTH_DEFAULT,
  full: 4,
  veins: 0.6,
  angle: 90,
  offset: 0,
  gain: 1,
  low: 0,
  high: 1,
  inverted: false,
};

const RANGES = {
  value: { min: 0, max: 1 },
  reach: { min: 1, max: 1024, digits: 0, unit: 'texels', logarithmic: true },
  depth: DEPTH_RANGE,
  full: DEPTH_RANGE,
  veins: { min: 0, max: 1 },
  angle: { min: -180, max: 180, step: 1, digits: 0, unit: 'degrees' },
  offset: { min: -1, max: 1 },
  gain: { min: 0.1, max: 10, logarithmic: true },
  low: { min: 0, max: 1 },
  high: { min: 0, max: 1 },
} as const;

interface MapWords {
  label: string;
  hint: string;
  /** The first is where it starts. */
  recipes: readonly ValueRecipe[];
  defaults?: Partial<ValueMapParams>;
  /** As a step has them. */
  version?: number;
  better?: string;
}

/** The maps of one value, and what each may be made of. A new one is an entry here and one in the tables of maps and steps. */
export const VALUE_MAPS = {
  roughness: {
    label: 'Roughness',
    hint: 'How dull the surface is: white scatters light, black mirrors it.',
    recipes: ['channel', 'another map', 'one value', 'fine detail', 'height', 'cavities', 'edges'],
    defaults: { inverted: true, low: 0.45, high: 0.9, value: 0.75 },
  },
  specular: {
    label: 'Specular',
    hint: 'How much is mirrored head on: 0.5 is the 4 % of most things but metal.',
    recipes: ['one value', 'channel', 'another map', 'height', 'edges'],
  },
  metalness: {
    label: 'Metalness',
    hint: 'White where the surface is bare metal.',
    recipes: ['one value', 'channel', 'another map', 'height', 'edges', 'cavities'],
    defaults: { value: 0 },
  },
  occlusion: {
    label: 'Occlusion',
    hint: 'How much of the sky each place sees between the heights around it; what is cut out is air.',
    recipes: ['open sky', 'channel', 'another map', 'one value', 'height'],
    defaults: { value: 1, reach: 128 },
    version: 3,
    better: 'The sky is measured along more directions and between texels: before, it was off beside oblique walls.',
  },
  translucency: {
    label: 'Translucency',
    hint: 'How much light shines through: thin parts let it pass, veins less.',
    recipes: ['thin parts', 'channel', 'another map', 'one value', 'thickness', 'edges'],
    defaults: { full: 60, high: 0.6 },
  },
  thickness: {
    label: 'Thickness',
    hint: 'How wide the part around each texel is, in millimetres up to a full one.',
    recipes: ['thickness', 'channel', 'another map', 'one value', 'height'],
    defaults: { full: 60 },
  },
  dirt: {
    label: 'Dirt',
    hint: 'Where dust, salt and wear gather: in hollows, along edges, towards one side.',
    recipes: ['cavities', 'edges', 'gradient', 'channel', 'another map', 'one value', 'fine detail'],
    defaults: { angle: -90 },
  },
} as const satisfies Partial<Record<MapName, MapWords>>;
export type ValueMapName = keyof typeof VALUE_MAPS;

const READS_PICTURE: readonly ValueRecipe[] = ['channel', 'fine detail', 'thin parts'];

/** The step that makes one of them. */
export function valueMap(name: ValueMapName): StepKind<ValueMapParams> {
  const { label, hint, recipes, defaults, version, better }: MapWords = VALUE_MAPS[name];
  return {
    stretch: 'maps',
    purpose: 'values',
    label,
    hint,
    defaults: { ...DEFAULTS, from: recipes[0], ...defaults },
    ranges: RANGES,
    ...(version && { version, better }),
    makes: name,
    inMillimetres: true,
    pullsMask: false,
    reads: (params) => (READS_PICTURE.includes(params.from) ? readsValues(params) : []),
    apply(state, params, env) {
      const { width, height } = state.colour;
      const fill = RECIPES[params.from](state, params, env);
      const table = tableOf(params);
      const out = env.allocate(width * height);
      const row = new Float32Array(width);
      env.bands(height, (y0, y1) => {
        for (let y = y0; y < y1; y++) {
          fill(y, row);
          look(row, table, out, y * width);
        }
      });
      return { maps: new Map([[name, { width, height, channels: 1, data: out }]]) };
    },
  };
}

const STEPS = 4095;

function look(row: Float32Array, table: Uint8Array, out: Uint8Array, start: number): void {
  for (let x = 0; x < row.length; x++) {
    const v = row[x];
    out[start + x] = table[v <= 0 ? 0 : v >= 1 ? STEPS : (v * STEPS + 0.5) | 0];
  }
}

/** Offset, gain around the middle, invert, range: what a recipe's value becomes. One value is taken as it was typed. */
function tableOf({ from, offset, gain, inverted, low, high }: ValueMapParams): Uint8Array {
  return Uint8Array.from({ length: STEPS + 1 }, (_, code) => {
    const v = code / STEPS;
    if (from === 'one value') return Math.floor(v * 255 + 0.5);
    const spread = Math.min(1, Math.max(0, 0.5 + (v + offset - 0.5) * gain));
    const turned = inverted ? 1 - spread : spread;
    return Math.floor((low + (high - low) * turned) * 255 + 0.5);
  });
}
