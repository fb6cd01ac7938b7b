import type { GroundPlace } from './line.ts';

export const SET_KINDS = [
  'one card',
  'front and back',
  'crossed',
  'three crossed',
  'star',
  'layered',
  'shells',
  'in a row',
  'along a line',
] as const;
export type SetKind = (typeof SET_KINDS)[number];

/** Several cards of one piece, shown and handed off as one. */
export interface CardSet {
  kind: SetKind;
  /** How many layers, shells or rays there are, or cards in a row or along a line. */
  cards: number;
  /** Between them, as a share of a card's width. */
  apart: number;
  /** Degrees by which a row turns from its first card to its last; positive: its ends come to the front. Left out: 0. */
  bow?: number | undefined;
  /** The line on the ground that cards stand along, in metres. Left out: one as long as the cards are wide together. */
  line?: GroundPlace[] | undefined;
  /** Whether each shows its own part of an atlas, the first again after the last; else all show the whole texture. */
  byRegion: boolean;
}

export const ONE_CARD: CardSet = { kind: 'one card', cards: 3, apart: 0.05, byRegion: true };
/** How many cards a set of a kind may have. */
export const setCards = (kind: SetKind) =>
  ({ min: 2, max: kind === 'along a line' ? 32 : 16, step: 1, digits: 0 }) as const;
export const SET_BOW = { min: -350, max: 350, step: 1, digits: 0 } as const;
export const SET_APART = { min: 0, max: 2 } as const;

/** A card's unit in which lengths are given; see {@link CardSet.line}. @param metre - Units in one. */
export function setInUnits(set: CardSet, metre: number): CardSet {
  return set.line && metre !== 1 ? { ...set, line: set.line.map(([x, z]) => [x * metre, z * metre]) } : set;
}

/** A line for so many cards of a width, which swings to the front and back again. */
export function startingLine({ cards }: Pick<CardSet, 'cards'>, width: number): GroundPlace[] {
  const half = (cards * width) / 2;
  return [[-half, 0], [-half / 3, half / 4], [half / 3, -half / 4], [half, 0]]; // prettier-ignore
}
