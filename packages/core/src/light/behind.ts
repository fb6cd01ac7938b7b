import type { Rgb } from '../colour/srgb.ts';

/** What stands behind the card on the Stand, of our own making; nothing: the ground alone. */
export const THINGS_BEHIND = ['float and post', 'hurdle', 'nothing'] as const;
export type ThingsBehind = (typeof THINGS_BEHIND)[number];

/** What is seen behind the card, and through its holes. Nothing of it is handed off. */
export type Behind =
  | { kind: 'things'; things: ThingsBehind }
  /** In place of sky and ground. */
  | { kind: 'colour'; colour: Rgb }
  /** Another piece, on a card a step behind. @see PieceDoc */
  | { kind: 'piece'; id: string; name: string }
  /** In place of sky and ground: a picture that the studio has, by the SHA-256 of its file. */
  | { kind: 'photograph'; sha256: string; name: string };

export const BEHIND_AT_FIRST: Behind = { kind: 'things', things: 'float and post' };
