import { FORM_RANGES, type CardForm, type FormKind } from '@lithe-sieve/core';

export type FormNumber = Exclude<keyof CardForm, 'kind'>;

/** A number of a form that is dragged on the card itself. */
export interface FormHandle {
  name: FormNumber;
  label: string;
  /** Where on the picture it sits, 0–1 from the top left. */
  at(form: CardForm): [u: number, v: number];
  goes: 'up and down' | 'sideways';
  /** What a pixel to the right or down adds, seen from the front; the card is so many pixels wide and high there. */
  by(card: { width: number; height: number }): number;
}

/** Degrees a pixel. */
const TURN = 0.6;

const ALONG: FormHandle = {
  name: 'along',
  label: 'Bend along',
  at: () => [0.5, 0],
  goes: 'up and down',
  by: () => TURN,
};
const LEAN: FormHandle = { name: 'lean', label: 'Lean', at: () => [0.5, 0.5], goes: 'up and down', by: () => TURN / 2 };

/** The handles of each kind; a new one is an entry here. */
export const FORM_HANDLES: Record<FormKind, readonly FormHandle[]> = {
  flat: [],
  bent: [ALONG, LEAN, { name: 'across', label: 'Bend across', at: () => [1, 0.5], goes: 'sideways', by: () => -TURN }],
  folded: [
    ALONG,
    LEAN,
    { name: 'fold', label: 'Fold', at: () => [1, 0.5], goes: 'sideways', by: () => -TURN },
    {
      name: 'foldAt',
      label: 'Where it folds',
      at: ({ foldAt }) => [foldAt, 1],
      goes: 'sideways',
      by: ({ width }) => 1 / Math.max(1, width),
    },
  ],
  'over an edge': [
    {
      name: 'over',
      label: 'On top of the edge',
      at: ({ over }) => [0.5, over],
      goes: 'up and down',
      by: ({ height }) => 1 / Math.max(1, height),
    },
  ],
  'round a post': [
    { name: 'wrap', label: 'Round the post', at: () => [1, 0.5], goes: 'sideways', by: () => -2 * TURN },
  ],
  slung: [
    {
      name: 'sag',
      label: 'Sag',
      at: () => [0.5, 0.5],
      goes: 'up and down',
      by: ({ height }) => 1 / Math.max(1, height),
    },
  ],
};

/** Within the range of a number, to its digits. */
export function withinRange(name: FormNumber, value: number): number {
  const { min, max, digits } = FORM_RANGES[name];
  return Number(Math.min(max, Math.max(min, value)).toFixed(digits));
}
