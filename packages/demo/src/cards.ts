import { CARD_OUTLINE, FLAT, ONE_CARD, type CardForm, type PieceDoc } from '@lithe-sieve/core';

type DemoCard = Pick<PieceDoc, 'form' | 'set' | 'outline'>;

const formed = (form: Partial<CardForm>): CardForm => ({ ...FLAT, ...form });

/** How demo pieces lie on their cards, by name; what is not here lies flat. */
export const DEMO_CARDS: Readonly<Record<string, DemoCard>> = {
  'Leaf on its diagonal': {
    form: formed({ kind: 'folded', fold: 50, round: 0.15, along: 35, curl: 0.5 }),
    outline: { ...CARD_OUTLINE },
  },
  'Cordgrass over a dark matte': {
    form: formed({ kind: 'bent', along: 35, curl: 0.8, lean: 10 }),
    set: { ...ONE_CARD, kind: 'star', cards: 3 },
  },
  'Pony’s mane': { form: formed({ kind: 'bent', along: 60, curl: -0.5, across: 0 }) },
  'Torn awning': { form: formed({ kind: 'over an edge', over: 0.35, radius: 12 }) },
  'Leaf atlas': { outline: { ...CARD_OUTLINE, corners: 48, downTo: 2 } },
};
