import {
  CHANNELS,
  COLOUR_METRICS,
  COLOUR_REACHES,
  COMBINE_HOWS,
  FEATHER_SIDES,
  MIXED_INS,
  PERFORATE_PATTERNS,
  TOUCH_TAKES,
  type StepParams,
} from '@lithe-sieve/core';
import type { Field, Fields } from './fields';
import { COLOUR_FIELDS, MIXED_NAMES } from './colour-trays';
import { FIT_FIELDS } from './fit-trays';
import { MAP_FIELDS } from './map-trays';

const CHANNEL_NOTES: Partial<Record<string, string>> = {
  luminance: 'Luminance weighs red, green and blue as the eye does (Rec. 709).',
  lightness: 'Steps of grey as the eye sees them (OKLab).',
  saturation: 'Grey is dropped, strong colours are kept.',
  largest: 'The largest of red, green and blue.',
  smallest: 'The smallest of red, green and blue: white is kept, every colour drops.',
};
const FEATHER_NOTES = {
  both: 'The edge softens to both sides.',
  outwards: 'Nothing that is kept gets more transparent.',
  inwards: 'Nothing that is dropped gets more opaque.',
};
const MIXED_NOTES = {
  found: 'Light or sRGB values: whichever makes the three channels agree on alpha.',
  'linear light': 'For photographs and scans: light adds up.',
  'encoded values': 'For pictures painted or composited in most programs.',
};
const COMBINE_NOTES = {
  'keep both': 'Kept where both masks keep.',
  'keep either': 'Kept where one of the masks keeps.',
  'take away': 'Kept where this mask keeps and the other does not.',
  multiply: 'One alpha times the other.',
};

const TOLERANCE_HINT =
  'How different a colour may be and still match. Perceptual distance: 0 is identical, 1 is black to white.';
const SOFTNESS_HINT = 'Width of the ramp between dropped and kept; 0 gives a hard edge.';

/** Below the swatches, which are a form of their own. */
export const FROM_COLOUR_FIELDS: readonly Field<StepParams['from-colour']>[] = [
  { as: 'number', name: 'tolerance', label: 'Tolerance', hint: TOLERANCE_HINT },
  { as: 'number', name: 'softness', label: 'Softness', hint: SOFTNESS_HINT },
  { as: 'choice', name: 'metric', label: 'Distance', options: COLOUR_METRICS },
  { as: 'choice', name: 'reach', label: 'Where', options: COLOUR_REACHES },
];

export const FIELDS: Fields = {
  'from-touch': [
    { as: 'touches', list: 'at', label: 'Touched points', none: 'none yet' },
    { as: 'choice', name: 'take', label: 'The region', options: TOUCH_TAKES },
    { as: 'number', name: 'tolerance', label: 'Tolerance', hint: TOLERANCE_HINT },
    { as: 'number', name: 'softness', label: 'Softness', hint: SOFTNESS_HINT },
    {
      as: 'number',
      name: 'gaps',
      label: 'Close gaps',
      hint: 'Gaps in the outline up to this many texels wide do not let the region leak out.',
    },
  ],
  'from-backdrop': [
    {
      as: 'number',
      name: 'tolerance',
      label: 'Tolerance',
      hint: 'How different from the backdrop, as lit there, a texel may be and still be dropped.',
    },
    { as: 'number', name: 'softness', label: 'Softness', hint: SOFTNESS_HINT },
    {
      as: 'number',
      name: 'shadow',
      label: 'Deepest shadow',
      hint: 'Anything up to this much darker than the backdrop, in the same colour, counts as shadow and is dropped.',
    },
    {
      as: 'number',
      name: 'edge',
      label: 'Recompute edge',
      hint: 'Within this many texels of the edge, alpha is recomputed from the colours on both sides. 0 keeps the ramp.',
    },
    { as: 'choice', name: 'mixed', label: 'Blended in', options: MIXED_INS, names: MIXED_NAMES, list: true },
  ],
  'from-two-backdrops': [
    { as: 'source', name: 'sourceId', label: 'On the other backdrop', colourToo: false },
    {
      as: 'choice',
      name: 'mixed',
      label: 'Blended in',
      options: MIXED_INS,
      names: MIXED_NAMES,
      list: true,
    },
    { as: 'note', text: ({ mixed }) => MIXED_NOTES[mixed] },
  ],
  'from-strokes': [
    { as: 'scribbles' },
    {
      as: 'number',
      name: 'edges',
      label: 'Edge strength',
      hint: 'How strongly an edge of the picture stops a scribble, compared with distance alone.',
    },
    { as: 'number', name: 'softness', label: 'Softness', hint: 'Width of the ramp where both meet, in texels.' },
  ],
  'from-piece': [
    { as: 'piece' },
    { as: 'number', name: 'x', label: 'Across', hint: 'Texels from the centre here, to the right.' },
    { as: 'number', name: 'y', label: 'Down', hint: 'Texels from the centre here, downwards.' },
    { as: 'number', name: 'size', label: 'Size', hint: '1: its texels are the same size as those here.' },
    { as: 'number', name: 'angle', label: 'Rotation', hint: 'Around its centre, clockwise.' },
  ],
  'cut-by-piece': [
    { as: 'cut by' },
    { as: 'number', name: 'across', label: 'Width of the cutter', hint: 'How wide the card is whose holes are cut.' },
    { as: 'toggle', name: 'repeats', label: 'The cutter repeats beyond its borders' },
    { as: 'toggle', name: 'inverted', label: 'Cut out what it keeps' },
    { as: 'number', name: 'x', label: 'Across', hint: 'Millimetres from the centre here, to the right.' },
    { as: 'number', name: 'y', label: 'Down', hint: 'Millimetres from the centre here, downwards.' },
    { as: 'number', name: 'angle', label: 'Rotation', hint: 'Around its centre, clockwise.' },
  ],
  'clear-holes': [
    {
      as: 'number',
      name: 'tolerance',
      label: 'Tolerance',
      hint: 'How different from the backdrop a kept texel may be and still look like it.',
    },
    {
      as: 'number',
      name: 'shadow',
      label: 'Deepest shadow',
      hint: 'As in From backdrop: shadowed backdrop counts too.',
    },
    { as: 'number', name: 'least', label: 'Smallest area', hint: 'Smaller places are ignored.' },
    { as: 'found', one: 'place', many: 'places', verb: 'Clear' },
  ],
  'fine-fringe': [
    {
      as: 'number',
      name: 'band',
      label: 'Band',
      hint: 'Texels on each side of the edge where alpha is recomputed. Make it as wide as the fringe.',
    },
    {
      as: 'number',
      name: 'trust',
      label: 'Mask weight',
      hint: 'How much the current mask counts in the band, compared with the colours.',
    },
  ],
  'from-channel': [
    { as: 'source', name: 'sourceId', label: 'Source', colourToo: true },
    { as: 'choice', name: 'channel', label: 'Channel', options: CHANNELS, list: true },
    { as: 'note', text: ({ channel }) => CHANNEL_NOTES[channel] ?? `White in ${channel} is kept.` },
  ],
  levels: [
    { as: 'number', name: 'black', label: 'Black point', hint: 'Everything at or below this alpha is fully dropped.' },
    { as: 'number', name: 'white', label: 'White point', hint: 'Everything at or above this alpha is fully kept.' },
    { as: 'number', name: 'gamma', label: 'Gamma', hint: 'Above 1 the fringe keeps more, below 1 it drops more.' },
    { as: 'curve', name: 'curve', label: 'Curve' },
    { as: 'choice', name: 'ramp', label: 'Ramp', options: ['soft', 'hard'] },
    {
      as: 'note',
      text: ({ ramp }) =>
        ramp === 'hard'
          ? 'Every texel is kept or dropped whole: no fringe is left.'
          : 'The fringe stays soft between the two points.',
    },
  ],
  grow: [
    {
      as: 'number',
      name: 'by',
      label: 'Move edge by',
      hint: 'Texels outwards, or inwards below 0. Fractions work too.',
    },
  ],
  feather: [
    { as: 'number', name: 'radius', label: 'Radius', hint: 'Texels of softening on each side of the edge.' },
    { as: 'choice', name: 'side', label: 'Soften', options: FEATHER_SIDES },
    { as: 'note', text: ({ side }) => FEATHER_NOTES[side] },
  ],
  'smooth-edge': [
    {
      as: 'number',
      name: 'radius',
      label: 'Smoothing radius',
      hint: 'Jags and notches up to about this size are removed; larger shapes stay.',
    },
  ],
  'harden-edge': [
    {
      as: 'number',
      name: 'width',
      label: 'Width of the edge',
      hint: 'From all dropped to all kept. A narrower edge stays as it is.',
    },
    { as: 'number', name: 'cutoff', label: 'Around a cutoff of', hint: 'Alpha at which the outline lies, and stays.' },
  ],
  'drop-strays': [
    { as: 'number', name: 'below', label: 'Smaller than', hint: 'Kept islands of fewer texels than this are strays.' },
    { as: 'found', one: 'stray', many: 'strays', verb: 'Drop' },
  ],
  'close-pinholes': [
    {
      as: 'number',
      name: 'below',
      label: 'Smaller than',
      hint: 'Dropped holes of fewer texels than this are pinholes.',
    },
    { as: 'found', one: 'pinhole', many: 'pinholes', verb: 'Close' },
  ],
  'cut-below': [
    { as: 'source', name: 'sourceId', label: 'Heights', colourToo: true },
    {
      as: 'number',
      name: 'at',
      label: 'Height',
      hint: 'Everything darker than this in the height picture is dropped.',
    },
    { as: 'number', name: 'softness', label: 'Softness', hint: 'Width of the ramp around the height; 0 cuts hard.' },
  ],
  combine: [
    { as: 'step', name: 'stepId', label: 'With the mask after' },
    { as: 'choice', name: 'how', label: 'How', options: COMBINE_HOWS, list: true },
    { as: 'note', text: ({ how }) => COMBINE_NOTES[how] },
  ],
  'opacity-factor': [
    { as: 'number', name: 'factor', label: 'Factor', hint: 'Every alpha is multiplied by this.' },
    {
      as: 'note',
      text: () => 'Written into the mask. The material’s opacity factor leaves the mask as it is.',
    },
  ],
  perforate: [
    { as: 'choice', name: 'pattern', label: 'Pattern', options: PERFORATE_PATTERNS },
    { as: 'number', name: 'size', label: 'Size', hint: 'Distance from one dot, line or cell to the next, in texels.' },
    { as: 'number', name: 'angle', label: 'Angle', hint: 'Rotation of the pattern.' },
    { as: 'number', name: 'gain', label: 'Gain', hint: 'Above 0 keeps more of every grey, below 0 less.' },
  ],
  ...COLOUR_FIELDS,
  ...MAP_FIELDS,
  ...FIT_FIELDS,
};
