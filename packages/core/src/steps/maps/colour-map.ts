import { byteOfLinear16Table, LINEAR16_OF_BYTE, type Rgb } from '../../colour/srgb.ts';
import { SieveError } from '../../errors.ts';
import { resampleMap } from '../../fit/resample.ts';
import type { MapName } from '../../raster/maps.ts';
import { makePicture, type Picture } from '../../raster/raster.ts';
import type { RunState } from '../../raster/run-state.ts';
import type { Channel } from '../from-channel.ts';
import type { Applied, StepEnv, StepKind } from '../step.ts';
import { mapRows } from './read-map.ts';

export const COLOUR_ORIGINS = ['picture', 'one colour'] as const;
export const DIMMINGS = ['nothing', 'a map'] as const;

/** Parameters of every step that makes colours: whose they are, and how bright. */
export interface ColourMapParams {
  from: (typeof COLOUR_ORIGINS)[number];
  /** For a picture; empty: the colour as it comes into the step. */
  sourceId: string;
  fit: 'refuse' | 'scale';
  colour: Rgb;
  /** Multiplies the light. */
  brightness: number;
  /** Whether a map multiplies the light, too: none where it is black. */
  dimmedBy: (typeof DIMMINGS)[number];
  map: MapName;
  channel: Channel;
  inverted: boolean;
  /** Added to the values of the map, then the gain multiplies them. */
  offset: number;
  gain: number;
}

const DEFAULTS: ColourMapParams = {
  from: 'picture',
  sourceId: '',
  fit: 'refuse',
  colour: [255, 255, 255],
  brightness: 1,
  dimmedBy: 'nothing',
  map: 'mask',
  channel: 'luminance',
  inverted: false,
  offset: 0,
  gain: 1,
};

const RANGES = {
  brightness: { min: 0, max: 1 },
  offset: { min: -1, max: 1 },
  gain: { min: 0.1, max: 10, logarithmic: true },
} as const;

type ColourSlot = 'colour' | 'throughColour' | 'emission';
type Words = Pick<StepKind<ColourMapParams>, 'stretch' | 'purpose' | 'label' | 'hint'>;

/** A step that makes a map of colours of a picture, or of one colour, as bright as another map says. */
function colourStep(
  makes: ColourSlot,
  words: Words,
  defaults: Partial<ColourMapParams> = {},
): StepKind<ColourMapParams> {
  return {
    ...words,
    defaults: { ...DEFAULTS, ...defaults },
    ranges: RANGES,
    ...(makes === 'colour' ? {} : { makes }),
    pullsMask: false,
    reads: ({ from, sourceId, fit }) =>
      from === 'picture' && sourceId
        ? [{ id: sourceId, as: 'colour', otherSize: fit === 'scale' ? 'scaled' : 'refused' }]
        : [],
    apply: (state, params, env) => put(makes, coloursOf(state, params, env), state),
  };
}

function put(makes: ColourSlot, made: Picture, { colour }: RunState): Applied {
  if (makes !== 'colour') return { maps: new Map([[makes, made]]) };
  for (let i = 3; i < made.data.length; i += 4) made.data[i] = colour.data[i]; // the picture's alpha stays
  return { colour: made };
}

function coloursOf(state: RunState, params: ColourMapParams, env: StepEnv): Picture {
  const { width, height } = state.colour;
  const from = params.from === 'picture' ? pictureAs(state.colour, params, env).data : null;
  const { brightness, offset, gain, inverted } = params;
  const amounts = params.dimmedBy === 'a map' ? mapRows(state, params, env) : null;
  const amountOf = (v: number) => brightness * Math.min(1, Math.max(0, ((inverted ? 1 - v : v) + offset) * gain));
  const encoded = byteOfLinear16Table();
  const out = env.allocate(4 * width * height);
  const row = new Float32Array(width).fill(brightness);
  env.bands(height, (y0, y1) => {
    for (let y = y0; y < y1; y++) {
      amounts?.(y, row);
      for (let x = 0, i = 4 * y * width; x < width; x++, i += 4) {
        const amount = amounts ? amountOf(row[x]) : brightness;
        for (let k = 0; k < 3; k++) {
          const own = from ? from[i + k] : params.colour[k];
          out[i + k] = amount === 1 ? own : encoded[(LINEAR16_OF_BYTE[own] * amount + 0.5) | 0];
        }
        out[i + 3] = 255;
      }
    }
  });
  return makePicture(width, height, out);
}

/** A source on the colour picture, scaled where its size differs. @throws {@link SieveError} `size-mismatch` */
export function pictureAs(
  colour: Picture,
  { sourceId, fit }: Pick<ColourMapParams, 'sourceId' | 'fit'>,
  env: StepEnv,
): Picture {
  if (!sourceId) return colour;
  const source = env.source(sourceId);
  const { width, height } = colour;
  if (source.width === width && source.height === height) return source;
  if (fit === 'refuse') {
    throw new SieveError(
      'size-mismatch',
      `The picture that it reads is ${source.width} × ${source.height}, the colour picture ${width} × ${height}.`,
      'Choose “scale to fit” in this step, or a picture of the same size.',
    );
  }
  const [xx, yy] = [source.width / width, source.height / height];
  const placing = { width, height, xx, xy: 0, x0: 0, yx: 0, yy, y0: 0 };
  return resampleMap('colour', source, placing, 'Kaiser', env) as Picture;
}

export const otherColour = colourStep('colour', {
  stretch: 'colour',
  purpose: 'recolour',
  label: 'Other colour',
  hint: 'Takes the colour of another picture, or one colour, in place of this one.',
});

export const throughColour = colourStep('throughColour', {
  stretch: 'maps',
  purpose: 'values',
  label: 'Translucency colour',
  hint: 'What colours the light that shines through; without it, the picture’s own colour does.',
});

export const emission = colourStep(
  'emission',
  {
    stretch: 'maps',
    purpose: 'values',
    label: 'Emission',
    hint: 'Light that the surface gives off by itself; its strength is the material’s.',
  },
  { dimmedBy: 'a map', map: 'colour' },
);
