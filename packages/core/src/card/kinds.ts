import type { PieceDoc } from '../piece/piece-doc.ts';
import { meshSurface, type CardSurface } from './surface.ts';

/** Metres. */
export interface CardSize {
  width: number;
  height: number;
}

/** A shape that a card can have. */
export interface CardKind {
  readonly label: string;
  surface(size: CardSize): CardSurface;
}

/** A new shape of card is an entry here. */
export const CARD_KINDS = {
  flat: { label: 'flat', surface: flatCard },
} as const satisfies Record<string, CardKind>;

/** As wide as it is set to, as tall as its picture asks. */
export function cardSize(widthMetres: number, picture: { width: number; height: number }): CardSize {
  return { width: widthMetres, height: (widthMetres * picture.height) / picture.width };
}

/** What of a piece gives its card its shape. */
export type CardOf = Pick<PieceDoc, 'cardWidth'>;

/** The surface of a piece's card, in the unit of its width. */
export function cardSurface({ cardWidth }: CardOf, picture: { width: number; height: number }): CardSurface {
  return CARD_KINDS.flat.surface(cardSize(cardWidth, picture));
}

/** One rectangle, centred on x. The corners: bottom left, bottom right, top right, top left. */
function flatCard({ width, height }: CardSize): CardSurface {
  const half = width / 2;
  return meshSurface({
    positions: Float32Array.of(-half, 0, 0, half, 0, 0, half, height, 0, -half, height, 0),
    normals: Float32Array.of(0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1),
    uvs: Float32Array.of(0, 1, 1, 1, 1, 0, 0, 0),
    indices: Uint16Array.of(0, 1, 2, 0, 2, 3),
  });
}
