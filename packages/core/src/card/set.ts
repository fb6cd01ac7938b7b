export const SET_KINDS = [
  'one card',
  'front and back',
  'crossed',
  'three crossed',
  'star',
  'layered',
  'shells',
  'in a row',
] as const;
export type SetKind = (typeof SET_KINDS)[number];

/** Several cards of one piece, shown and handed off as one. */
export interface CardSet {
  kind: SetKind;
  /** How many layers, shells or rays there are, or cards in a row. */
  cards: number;
  /** Between them, as a share of a card's width. */
  apart: number;
  /** Degrees by which a row turns from its first card to its last; positive: its ends come to the front. Left out: 0. */
  bow?: number | undefined;
  /** Whether each shows its own part of an atlas, the first again after the last; else all show the whole texture. */
  byRegion: boolean;
}

export const ONE_CARD: CardSet = { kind: 'one card', cards: 3, apart: 0.05, byRegion: true };
export const SET_CARDS = { min: 2, max: 16, step: 1, digits: 0 } as const;
export const SET_BOW = { min: -350, max: 350, step: 1, digits: 0 } as const;
export const SET_APART = { min: 0, max: 2 } as const;
