import {
  CHANNELS,
  COMBINE_HOWS,
  FEATHER_SIDES,
  PERFORATE_PATTERNS,
  type NumberKeys,
  type StepKindName,
  type StepParams,
} from '@lithe-sieve/core';

type KeysOf<P, T> = { [K in keyof P]: P[K] extends T ? K : never }[keyof P] & string;

/** A number; its limits are those that core says of the kind. */
interface NumberField<P> {
  as: 'number';
  name: NumberKeys<P>;
  label: string;
  /** What it does to the picture. */
  hint: string;
}

/** One of a few words; short ones stand side by side, many in a list. */
interface ChoiceField<P> {
  as: 'choice';
  name: KeysOf<P, string>;
  label: string;
  options: readonly string[];
  list?: boolean;
}

/** A source of the piece by its id, with what to do when it is of another size. */
interface SourceField<P> {
  as: 'source';
  name: KeysOf<P, string>;
  label: string;
  /** Whether the colour picture may be chosen. */
  colourToo: boolean;
}

/** An earlier step of the run. */
interface StepField<P> {
  as: 'step';
  name: KeysOf<P, string>;
  label: string;
}

/** What the step found: shown first, changed when told, each place taken or left. */
interface FoundField {
  as: 'found';
  one: string;
  many: string;
  verb: string;
}

/** A sentence that follows the parameters. */
interface SaysField<P> {
  as: 'says';
  text: (params: P) => string;
}

export type Field<P> = NumberField<P> | ChoiceField<P> | SourceField<P> | StepField<P> | FoundField | SaysField<P>;
export type AnyField = Field<Record<string, never>>;

/** The tray of a kind, control by control from the top. */
export type Fields = { [K in StepKindName]?: readonly Field<StepParams[K]>[] };

const CHANNEL_SAYS: Partial<Record<string, string>> = {
  luminance: 'Luminance weighs red, green and blue as the eye does (Rec. 709).',
};
const FEATHER_SAYS = {
  both: 'The edge softens to both sides.',
  outwards: 'Nothing that is kept gets more transparent.',
  inwards: 'Nothing that is dropped gets more opaque.',
};
const COMBINE_SAYS = {
  'keep both': 'Kept where both masks keep.',
  'keep either': 'Kept where one of the masks keeps.',
  'take away': 'Kept where this mask keeps and the other does not.',
  multiply: 'One alpha times the other.',
};

export const FIELDS: Fields = {
  'from-channel': [
    { as: 'source', name: 'sourceId', label: 'Source', colourToo: true },
    { as: 'choice', name: 'channel', label: 'Channel', options: CHANNELS, list: true },
    { as: 'says', text: ({ channel }) => CHANNEL_SAYS[channel] ?? `White in ${channel} is kept.` },
  ],
  levels: [
    { as: 'number', name: 'black', label: 'Black point', hint: 'Everything at or below this alpha is dropped whole.' },
    { as: 'number', name: 'white', label: 'White point', hint: 'Everything at or above this alpha is kept whole.' },
    { as: 'number', name: 'gamma', label: 'Gamma', hint: 'Above 1 the fringe keeps more, below 1 it drops more.' },
    { as: 'choice', name: 'ramp', label: 'Ramp', options: ['soft', 'hard'] },
    {
      as: 'says',
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
    { as: 'says', text: () => 'This does not follow the cutoff, so that trying cutoffs stays instant.' },
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
    { as: 'says', text: ({ side }) => FEATHER_SAYS[side] },
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
    { as: 'says', text: ({ how }) => COMBINE_SAYS[how] },
  ],
  'opacity-factor': [
    { as: 'number', name: 'factor', label: 'Factor', hint: 'Every alpha is multiplied by this.' },
    {
      as: 'says',
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
