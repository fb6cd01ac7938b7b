import { MIXED_INS, BLEED_HOWS, BLEED_UNDERS, LEVELLED, RAMP_BYS, SWING_OVERS, UNMIX_FROMS } from '@lithe-sieve/core';
import type { Fields } from './fields';
import { COLOUR_MAP } from './map-readings';

const UNMIX_NOTES = {
  'the backdrop': 'One smooth backdrop, as it is lit, is found from the border.',
  'one colour': 'A colour that was blended in, as black or white is.',
  'what lies around':
    'Colours of subject and backdrop are estimated from what lies around the fringe: for any backdrop.',
};

/** In which values subject and backdrop were mixed. */
export const MIXED_NAMES = { found: 'found out', 'encoded values': 'sRGB values' };

/** Fields of the steps of the colour. */
export const COLOUR_FIELDS: Fields = {
  'other-colour': COLOUR_MAP,
  unmix: [
    { as: 'choice', name: 'from', label: 'Take out', options: UNMIX_FROMS, list: true },
    { as: 'colour', name: 'matte', label: 'The colour', when: ({ from }) => from === 'one colour' },
    { as: 'note', text: ({ from }) => UNMIX_NOTES[from] },
    {
      as: 'choice',
      name: 'mixed',
      label: 'Blended in',
      options: MIXED_INS,
      names: MIXED_NAMES,
      list: true,
      when: ({ from }, version) => version >= 2 || from !== 'what lies around',
    },
    {
      as: 'number',
      name: 'least',
      label: 'Minimum alpha',
      hint: 'Below this alpha too little of the subject is left to recover its colour; bleed fills those texels.',
    },
  ],
  bleed: [
    {
      as: 'number',
      name: 'trust',
      label: 'Keep colour above alpha',
      hint: 'Texels at or above this alpha keep their colour. Raise it if backdrop still shows in the fringe.',
    },
    { as: 'choice', name: 'how', label: 'Colour', options: BLEED_HOWS },
    { as: 'choice', name: 'under', label: 'Fills', options: BLEED_UNDERS, list: true },
    {
      as: 'number',
      name: 'reach',
      label: 'Reach',
      hint: 'No farther than this from a kept texel; 0 fills everything.',
      zero: 'everywhere',
    },
    { as: 'note', text: () => 'Independent of the cutoff, so trying cutoffs stays instant.' },
  ],
  ramp: [
    { as: 'choice', name: 'by', label: 'Along', options: RAMP_BYS, list: true },
    { as: 'source', name: 'sourceId', label: 'Of', colourToo: true, when: ({ by }) => by !== 'distance from the edge' },
    {
      as: 'number',
      name: 'width',
      label: 'Width',
      hint: 'From the edge of the mask to the last colour.',
      when: ({ by }) => by === 'distance from the edge',
    },
    { as: 'ramp' },
    { as: 'toggle', name: 'keepLightness', label: 'Keep the lightness' },
    { as: 'number', name: 'amount', label: 'Amount', hint: '0 leaves the picture, 1 is the ramp.' },
  ],
  swing: [
    { as: 'choice', name: 'over', label: 'Over', options: SWING_OVERS, list: true },
    {
      as: 'number',
      name: 'size',
      label: 'Size of a patch',
      hint: 'About how far apart two drifts are.',
      when: ({ over }) => over === 'patches',
    },
    { as: 'number', name: 'tint', label: 'Tint', hint: 'Farthest turn of the hue to either side.' },
    { as: 'number', name: 'lightness', label: 'Lightness', hint: 'Farthest change of lightness.' },
    { as: 'number', name: 'richness', label: 'Richness', hint: 'Farthest change of how strong the colour is.' },
    { as: 'number', name: 'seed', label: 'Seed', hint: 'Another number, another drift.' },
  ],
  'colour-levels': [
    { as: 'choice', name: 'channel', label: 'Of', options: LEVELLED, list: true },
    { as: 'number', name: 'black', label: 'Black point', hint: 'Everything at or below becomes 0.' },
    { as: 'number', name: 'white', label: 'White point', hint: 'Everything at or above becomes full.' },
    { as: 'number', name: 'gamma', label: 'Gamma', hint: 'Above 1 lightens the middle, below 1 darkens it.' },
    { as: 'curve', name: 'curve', label: 'Curve' },
  ],
  match: [
    { as: 'source', name: 'sourceId', label: 'Like', colourToo: false },
    { as: 'number', name: 'lightness', label: 'Lightness', hint: 'How far its lightness and contrast are matched.' },
    { as: 'number', name: 'colour', label: 'Colour', hint: 'How far its tints are matched.' },
  ],
  'flatten-light': [
    { as: 'number', name: 'size', label: 'Size', hint: 'Changes of light wider than about this are evened out.' },
    { as: 'number', name: 'amount', label: 'Amount', hint: '0 leaves the light as it is.' },
  ],
};
