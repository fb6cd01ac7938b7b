/** A part of a run whose steps stand together. */
export interface StretchKind {
  readonly label: string;
  readonly hint: string;
}

/**
 * The stretches of a run, in order; the clip, which is the material's, comes after the last. The strip, its menus, the
 * order of moves and what a worker computes first all follow this table.
 */
export const STRETCHES = {
  mask: { label: 'mask', hint: 'What is kept' },
  colour: { label: 'colour', hint: 'What the kept texels and those around them look like' },
  maps: { label: 'maps', hint: 'What is derived of colour and mask' },
  fit: { label: 'fit', hint: 'How all maps lie in the texture' },
} as const satisfies Record<string, StretchKind>;

export type Stretch = keyof typeof STRETCHES;

/** What comes after the last stretch. */
export const CLIP: StretchKind = { label: 'clip', hint: 'What the renderer does with the mask' };

export const STRETCH_NAMES = Object.keys(STRETCHES) as Stretch[];

/** What steps are for: they are offered under these headings. */
export const PURPOSES = {
  pull: 'Make a mask',
  edge: 'Shape the edge',
  clean: 'Clean up',
  cut: 'Cut and combine',
  colour: 'Colour under and around the edge',
  recolour: 'Recolour',
  height: 'Height',
  normal: 'Normal',
  values: 'Other maps',
  fit: 'Fit the texture',
} as const;

export type Purpose = keyof typeof PURPOSES;
