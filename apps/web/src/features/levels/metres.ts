import { levelDistance, type PieceDoc } from '@lithe-sieve/core';

/** How far away a level of this width is reached, for a person. @param cardWidth - Metres. */
export function metresTo(width: number, { levels }: PieceDoc, cardWidth: number): string {
  const metres = levelDistance(cardWidth, width, levels);
  return `${metres.toFixed(metres < 10 ? 1 : 0)} m`;
}
