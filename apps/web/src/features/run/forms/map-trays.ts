import {
  CHANNELS,
  EDGE_PROFILES,
  GREEN_WAYS,
  HAND_DOES,
  HEIGHT_BLENDS,
  NORMAL_BLENDS,
  NORMAL_TURNS,
  VALUE_MAPS,
  VEIN_TONES,
  type StepParams,
  type ValueMapName,
  type ValueMapParams,
  type ValueRecipe,
} from '@lithe-sieve/core';
import type { Field, Fields } from './fields';
import { COLOUR_MAP, readMap } from './map-readings';

const FIT_HINT = 'In texels of the full size.';

interface Picture {
  sourceId: string;
  channel: (typeof CHANNELS)[number];
}

/** A channel of the picture or of a source. */
const picture = <P extends Picture>(when?: (params: P) => boolean) =>
  [
    { as: 'source', name: 'sourceId', label: 'From', colourToo: true, when },
    { as: 'choice', name: 'channel', label: 'Channel', options: CHANNELS, list: true, when },
  ] as unknown as Field<P>[];

const blending = <P extends { blend: string; weight: number }>() =>
  [
    { as: 'choice', name: 'blend', label: 'Blend with earlier heights', options: HEIGHT_BLENDS, list: true },
    {
      as: 'number',
      name: 'weight',
      label: 'Weight',
      hint: 'How strongly it is blended in. The first heights of a run go in whole.',
    },
  ] as unknown as Field<P>[];

const DEPTH_HINT = 'Height from black to white, to scale with the width of the card (tile Material).';

const RECIPE_NOTES: Record<ValueRecipe, string> = {
  'one value': 'The same all over.',
  channel: 'Read from a channel of the picture, or of another source.',
  'another map': 'Read from a map that the run made before this step, as it is there.',
  height: 'The height map itself.',
  'fine detail': 'White where the picture changes a lot within the radius.',
  cavities: 'White where the height lies below its surroundings.',
  edges: 'White along the cut edge, fading inwards.',
  gradient: 'Rises across the whole picture.',
  'open sky': 'From the horizon in 16 directions over the height map; dropped texels are air.',
  thickness: 'From the mask: how wide the part is that a texel lies in.',
  'thin parts': 'From the mask: narrow parts let light through, wide ones less; veins block it.',
};

const uses =
  (...recipes: ValueRecipe[]) =>
  ({ from }: ValueMapParams) =>
    recipes.includes(from);
const reads = uses('channel', 'fine detail', 'thin parts');

function valueMap(name: ValueMapName): readonly Field<ValueMapParams>[] {
  return [
    { as: 'choice', name: 'from', label: 'Made from', options: VALUE_MAPS[name].recipes, list: true },
    { as: 'note', text: ({ from }) => RECIPE_NOTES[from] },
    { as: 'number', name: 'value', label: 'Value', hint: 'The same for every texel.', when: uses('one value') },
    ...picture<ValueMapParams>(reads),
    ...readMap<ValueMapParams>(uses('another map')),
    {
      as: 'number',
      name: 'reach',
      label: 'Radius',
      hint: `How far around each texel is compared. ${FIT_HINT}`,
      when: uses('fine detail', 'cavities', 'edges', 'open sky'),
    },
    { as: 'number', name: 'depth', label: 'Depth', hint: DEPTH_HINT, when: uses('open sky') },
    {
      as: 'number',
      name: 'full',
      label: 'Full thickness',
      hint: 'Parts this wide and wider are as thick as it gets.',
      when: uses('thickness', 'thin parts'),
    },
    {
      as: 'number',
      name: 'veins',
      label: 'Veins',
      hint: 'How much light the veins block.',
      when: uses('thin parts'),
    },
    {
      as: 'number',
      name: 'angle',
      label: 'Angle',
      hint: 'Where it is white: 0 right, 90 at the top.',
      when: uses('gradient'),
    },
    {
      as: 'number',
      name: 'offset',
      label: 'Offset',
      hint: 'Added to the values.',
      when: ({ from }) => from !== 'one value',
    },
    {
      as: 'number',
      name: 'gain',
      label: 'Contrast',
      hint: 'Spreads the values around the middle.',
      when: ({ from }) => from !== 'one value',
    },
    {
      as: 'number',
      name: 'low',
      label: 'From',
      hint: 'Value of the darkest places.',
      when: ({ from }) => from !== 'one value',
    },
    {
      as: 'number',
      name: 'high',
      label: 'To',
      hint: 'Value of the lightest places.',
      when: ({ from }) => from !== 'one value',
    },
    { as: 'toggle', name: 'inverted', label: 'Inverted', when: ({ from }) => from !== 'one value' },
    { as: 'histogram', map: name },
  ];
}

/** Fields of the steps that make maps. */
export const MAP_FIELDS: Fields = {
  'height-from-picture': [
    ...picture<StepParams['height-from-picture']>(),
    {
      as: 'number',
      name: 'large',
      label: 'Large shapes',
      hint: 'Strength of shapes wider than the split; below 0 they sink.',
    },
    { as: 'number', name: 'detail', label: 'Detail', hint: 'Strength of finer shapes.' },
    {
      as: 'number',
      name: 'split',
      label: 'Split at',
      hint: 'Shapes wider than about this are large, finer ones detail.',
    },
    {
      as: 'number',
      name: 'smooth',
      label: 'Smoothing',
      hint: 'Evens out the steps of an 8-bit picture and its grain.',
    },
    ...blending<StepParams['height-from-picture']>(),
    { as: 'histogram', map: 'height' },
  ],
  'height-from-edge': [
    { as: 'number', name: 'width', label: 'Width of the rise', hint: 'From the edge of the mask to full height.' },
    { as: 'choice', name: 'profile', label: 'Profile', options: EDGE_PROFILES },
    { as: 'number', name: 'edge', label: 'Height at the edge', hint: 'Inside it rises to white.' },
    ...blending<StepParams['height-from-edge']>(),
    { as: 'histogram', map: 'height' },
  ],
  'height-from-veins': [
    ...picture<StepParams['height-from-veins']>(),
    { as: 'choice', name: 'veins', label: 'Veins are', options: VEIN_TONES },
    { as: 'number', name: 'width', label: 'Width of a vein', hint: 'Lines of about this width are found.' },
    { as: 'number', name: 'gain', label: 'Sensitivity', hint: 'How strongly faint lines show.' },
    { as: 'number', name: 'lift', label: 'Lift', hint: 'Above 0 raises them, below 0 sinks them.' },
    ...blending<StepParams['height-from-veins']>(),
    { as: 'histogram', map: 'height' },
  ],
  'height-by-hand': [
    { as: 'hand' },
    { as: 'choice', name: 'does', label: 'Strokes', options: HAND_DOES, list: true },
    {
      as: 'number',
      name: 'by',
      label: 'Height of a stroke',
      hint: 'What a full stroke adds or takes, of black to white.',
      when: ({ does }) => does === 'raise and lower',
    },
    {
      as: 'number',
      name: 'radius',
      label: 'Smoothing radius',
      hint: 'How far around is averaged under a full stroke.',
      when: ({ does }) => does === 'smooth',
    },
    { as: 'histogram', map: 'height' },
  ],
  'normal-from-height': [
    { as: 'number', name: 'depth', label: 'Depth', hint: DEPTH_HINT },
    { as: 'note', text: () => 'Green points up (OpenGL); the Hand-off can write it down (DirectX).' },
    { as: 'histogram', map: 'normal' },
  ],
  'normal-from-picture': [
    { as: 'source', name: 'sourceId', label: 'Normal map', colourToo: false },
    {
      as: 'choice',
      name: 'green',
      label: 'Its green is',
      options: GREEN_WAYS,
      names: { OpenGL: 'OpenGL (up)', DirectX: 'DirectX (down)' },
    },
    { as: 'choice', name: 'blend', label: 'How', options: NORMAL_BLENDS },
    { as: 'number', name: 'weight', label: 'Weight', hint: 'How strongly its directions lean.' },
    { as: 'histogram', map: 'normal' },
  ],
  'normal-from-lights': [
    { as: 'lights' },
    { as: 'choice', name: 'colour', label: 'The colour', options: ['as it is', 'albedo'] },
    {
      as: 'note',
      text: ({ colour }) =>
        colour === 'albedo' ? 'The picture becomes its own colour without shading.' : 'The picture stays as it was.',
    },
    { as: 'histogram', map: 'normal' },
  ],
  'flip-normals': [{ as: 'choice', name: 'turn', label: 'Turn', options: NORMAL_TURNS, list: true }],
  roughness: valueMap('roughness'),
  specular: valueMap('specular'),
  metalness: valueMap('metalness'),
  occlusion: valueMap('occlusion'),
  translucency: valueMap('translucency'),
  thickness: valueMap('thickness'),
  dirt: valueMap('dirt'),
  'tint-id': [
    { as: 'number', name: 'first', label: 'First grey', hint: 'Of the largest part; each other has one far from it.' },
  ],
  'back-colour': [
    { as: 'source', name: 'sourceId', label: 'From', colourToo: true },
    { as: 'number', name: 'pale', label: 'Paler', hint: '0 leaves the colour, 1 is grey.' },
    { as: 'number', name: 'lighter', label: 'Lighter', hint: '0 leaves the colour, 1 is white.' },
    {
      as: 'note',
      text: () => 'The back shows it where the card has one of geometry: see the Card tray.',
    },
  ],
  'through-colour': [
    ...COLOUR_MAP,
    { as: 'note', text: () => 'It shows where the run makes a translucency map, too.' },
  ],
  emission: [...COLOUR_MAP, { as: 'note', text: () => 'Its strength is set in the Material tray.' }],
  'ramp-by-height': [
    { as: 'ramp' },
    { as: 'toggle', name: 'keepLightness', label: 'Keep the lightness' },
    { as: 'number', name: 'amount', label: 'Amount', hint: '0 leaves the picture, 1 is the ramp.' },
  ],
  'bleed-maps': [
    {
      as: 'number',
      name: 'trust',
      label: 'Keep values above alpha',
      hint: 'Texels at or above this alpha keep their values; the others take those of the nearest one.',
    },
  ],
};
