import { MIP_FILTERS, RESIZE_BYS, SIDES, TILE_WAYS, TURN_HOWS } from '@lithe-sieve/core';
import type { Field, Fields } from './fields';

const sides = { as: 'choice', name: 'sides', label: 'Sides', options: SIDES, list: true } as const;
const filter = { as: 'choice', name: 'filter', label: 'Filter', options: MIP_FILTERS, list: true } as const;
const filterOf = <P>() => filter as unknown as Field<P>;

/** Fields of the steps that lay the picture into its texture. */
export const FIT_FIELDS: Fields = {
  trim: [{ as: 'number', name: 'margin', label: 'Margin', hint: 'Empty texels left around the subject.' }, sides],
  'turn-to-fit': [
    { as: 'choice', name: 'how', label: 'Angle', options: TURN_HOWS },
    {
      as: 'number',
      name: 'angle',
      label: 'Turn by',
      hint: 'Clockwise.',
      when: ({ how }) => how === 'given angle',
    },
    {
      as: 'number',
      name: 'ratio',
      label: 'Width to height',
      hint: 'Shape of the rectangle: 1 is a square, 2 twice as wide as tall.',
    },
    { as: 'number', name: 'margin', label: 'Margin', hint: 'Empty texels left around the subject.' },
    {
      as: 'number',
      name: 'size',
      label: 'Longer side',
      hint: 'Of the texture; 0 leaves the subject as large as it is.',
      zero: 'as it is',
    },
    sides,
    filterOf(),
  ],
  place: [
    {
      as: 'number',
      name: 'x',
      label: 'To the right',
      hint: 'Or drag on the Sheet; by keys, hold Enter and press arrows.',
    },
    { as: 'number', name: 'y', label: 'Down', hint: 'Texels; below 0 upwards.' },
    { as: 'number', name: 'size', label: 'Size', hint: '2 is twice as large.' },
    { as: 'number', name: 'angle', label: 'Rotation', hint: 'Clockwise, around the middle.' },
    filterOf(),
  ],
  resize: [
    { as: 'choice', name: 'by', label: 'By', options: RESIZE_BYS, list: true },
    {
      as: 'number',
      name: 'factor',
      label: 'Factor',
      hint: '0.5 halves the sides: author large, deliver small.',
      when: ({ by }) => by === 'factor',
    },
    {
      as: 'number',
      name: 'side',
      label: 'Longer side',
      hint: 'Of the texture.',
      when: ({ by }) => by === 'longer side',
    },
    {
      as: 'number',
      name: 'density',
      label: 'Texels per metre',
      hint: 'Of the card, whose width is set in the tile Material.',
      when: ({ by }) => by === 'texels per metre',
    },
    sides,
    filterOf(),
  ],
  pad: [
    { as: 'number', name: 'left', label: 'Left', hint: 'Empty texels added on this side.' },
    { as: 'number', name: 'right', label: 'Right', hint: 'Empty texels added on this side.' },
    { as: 'number', name: 'top', label: 'Top', hint: 'Empty texels added on this side.' },
    { as: 'number', name: 'bottom', label: 'Bottom', hint: 'Empty texels added on this side.' },
    sides,
  ],
  'make-tileable': [
    { as: 'choice', name: 'ways', label: 'Repeats', options: TILE_WAYS, list: true },
    {
      as: 'number',
      name: 'overlap',
      label: 'Largest overlap',
      hint: 'How far opposite ends may overlap: the best match between half of this and all of it is taken. Two meshes is a good width.',
    },
    {
      as: 'number',
      name: 'blend',
      label: 'Blend',
      hint: 'Width over which the two ends blend along the seam.',
    },
    { as: 'note', text: () => 'Set the wrap of mip levels to repeat as well (tile Mip levels).' },
  ],
};
