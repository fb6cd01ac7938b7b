import {
  CHANNELS,
  COLOUR_METRICS,
  COLOUR_REACHES,
  COMBINE_HOWS,
  FEATHER_SIDES,
  MIXED_INS,
  PERFORATE_PATTERNS,
  TOUCH_TAKES,
  UNMIX_FROMS,
  type StepParams,
} from '@lithe-sieve/core';
import type { Field, Fields } from './fields';

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
  'linear light': 'For photographs and scans: light adds up.',
  'encoded values': 'For pictures painted or put together in most programs.',
};
const COMBINE_NOTES = {
  'keep both': 'Kept where both masks keep.',
  'keep either': 'Kept where one of the masks keeps.',
  'take away': 'Kept where this mask keeps and the other does not.',
  multiply: 'One alpha times the other.',
};

const TOLERANCE_HINT =
  'How far a colour may be and still count as it: perceptual distance, 0 is the same, 1 is black to white.';
const SOFTNESS_HINT = 'Width of the ramp from dropped to kept around the tolerance; 0 gives a hard edge.';

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
      hint: 'The region does not leak out through breaks of up to this many texels in what bounds it.',
    },
  ],
  'from-backdrop': [
    {
      as: 'number',
      name: 'tolerance',
      label: 'Tolerance',
      hint: 'How far a texel may be from the backdrop as it is lit there, and still be dropped.',
    },
    { as: 'number', name: 'softness', label: 'Softness', hint: SOFTNESS_HINT },
    {
      as: 'number',
      name: 'shadow',
      label: 'Deepest shadow',
      hint: 'What is darker than the backdrop by up to this share of its light, and of its colour, is shadow and dropped.',
    },
    {
      as: 'number',
      name: 'edge',
      label: 'Tell the edge anew',
      hint: 'Within this many texels of the edge, alpha is told from the colours on both sides of it; 0 leaves the ramp.',
    },
  ],
  'from-two-backdrops': [
    { as: 'source', name: 'sourceId', label: 'On the other backdrop', colourToo: false },
    { as: 'choice', name: 'mixed', label: 'Mixed in', options: MIXED_INS, list: true },
    { as: 'note', text: ({ mixed }) => MIXED_NOTES[mixed] },
  ],
  'from-strokes': [
    { as: 'scribbles' },
    {
      as: 'number',
      name: 'edges',
      label: 'Heed edges',
      hint: 'How much an edge of the picture holds a scribble back, against plain distance.',
    },
    { as: 'number', name: 'softness', label: 'Softness', hint: 'Width of the ramp where both meet, in texels.' },
  ],
  'from-piece': [
    { as: 'piece' },
    { as: 'number', name: 'x', label: 'Across', hint: 'Texels by which its middle lies right of the middle here.' },
    { as: 'number', name: 'y', label: 'Down', hint: 'Texels by which its middle lies below the middle here.' },
    { as: 'number', name: 'size', label: 'Size', hint: 'One: its texels are as large as those here.' },
    { as: 'number', name: 'angle', label: 'Turn', hint: 'About its own middle, clockwise.' },
  ],
  'clear-holes': [
    {
      as: 'number',
      name: 'tolerance',
      label: 'Tolerance',
      hint: 'How far a kept texel may be from the backdrop and still look like it.',
    },
    {
      as: 'number',
      name: 'shadow',
      label: 'Deepest shadow',
      hint: 'As in “From backdrop”: darker backdrop counts too.',
    },
    { as: 'number', name: 'least', label: 'At least', hint: 'Places of fewer texels are not proposed.' },
    { as: 'found', one: 'place', many: 'places', verb: 'Clear' },
  ],
  'fine-fringe': [
    {
      as: 'number',
      name: 'band',
      label: 'Band',
      hint: 'Texels to each side of the edge in which alpha is found anew; as wide as the fringe is.',
    },
    {
      as: 'number',
      name: 'trust',
      label: 'Trust the mask',
      hint: 'How much the mask so far counts in the band, beside what the colours say.',
    },
  ],
  unmix: [
    { as: 'choice', name: 'from', label: 'Take out', options: UNMIX_FROMS },
    { as: 'colour', name: 'matte', label: 'The colour' },
    {
      as: 'number',
      name: 'least',
      label: 'From alpha',
      hint: 'Below this alpha too little of the subject is left to tell its colour; bleed fills such texels.',
    },
  ],
  'from-channel': [
    { as: 'source', name: 'sourceId', label: 'Source', colourToo: true },
    { as: 'choice', name: 'channel', label: 'Channel', options: CHANNELS, list: true },
    { as: 'note', text: ({ channel }) => CHANNEL_NOTES[channel] ?? `White in ${channel} is kept.` },
  ],
  levels: [
    { as: 'number', name: 'black', label: 'Black point', hint: 'Everything at or below this alpha is dropped whole.' },
    { as: 'number', name: 'white', label: 'White point', hint: 'Everything at or above this alpha is kept whole.' },
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
  bleed: [
    {
      as: 'number',
      name: 'trust',
      label: 'Trust colour from alpha',
      hint: 'Texels at or above this alpha keep their own colour; all others take that of the nearest one that does. Raise it when backdrop still shows in the fringe.',
    },
    { as: 'note', text: () => 'This does not follow the cutoff, so that trying cutoffs stays instant.' },
  ],
  grow: [
    {
      as: 'number',
      name: 'by',
      label: 'Move the edge by',
      hint: 'Texels outwards; below 0 inwards. A fraction moves a soft edge by just that.',
    },
  ],
  feather: [
    { as: 'number', name: 'radius', label: 'Radius', hint: 'How many texels the edge is spread over to either side.' },
    { as: 'choice', name: 'side', label: 'Soften', options: FEATHER_SIDES },
    { as: 'note', text: ({ side }) => FEATHER_NOTES[side] },
  ],
  'smooth-edge': [
    {
      as: 'number',
      name: 'radius',
      label: 'Even out below',
      hint: 'Jags and notches of about this many texels go; larger shapes stay.',
    },
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
      text: () => 'This is written into the mask. The factor of the material leaves the mask as it is.',
    },
  ],
  perforate: [
    { as: 'choice', name: 'pattern', label: 'Pattern', options: PERFORATE_PATTERNS },
    { as: 'number', name: 'size', label: 'Size', hint: 'Texels from one dot, line or cell to the next.' },
    { as: 'number', name: 'angle', label: 'Angle', hint: 'Turn of the pattern.' },
    { as: 'number', name: 'gain', label: 'Gain', hint: 'Above 0 more is kept of every grey, below 0 less.' },
  ],
};
