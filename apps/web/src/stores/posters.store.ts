import type { PieceSummary } from '@lithe-sieve/contract';
import { defineStore } from 'pinia';

/** The Stock's picture of a piece, which the browser has: both views begin with it. */
export interface Poster {
  src: string;
  /** Texels of the full size. */
  width: number;
  height: number;
}

/** The address of a piece's picture: another one for each revision, and once it is of the full size. */
export function pictureOf({ id, revision, exact }: PieceSummary): string {
  return `/api/pieces/${id}/picture.png?revision=${revision}${exact.picture ? '&exact' : ''}`;
}

/** Session state: pictures of the pieces that the Stock listed. */
export const usePostersStore = defineStore('posters', () => {
  const known = new Map<string, Poster>();

  function remember(pieces: readonly PieceSummary[]): void {
    for (const piece of pieces) {
      const { id, width, height, fresh, problem } = piece;
      if (fresh && !problem && width > 0) known.set(id, { src: pictureOf(piece), width, height });
      else known.delete(id);
    }
  }

  return { remember, of: (pieceId: string): Poster | null => known.get(pieceId) ?? null };
});
