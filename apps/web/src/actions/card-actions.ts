import { ONE_CARD, type CardSet } from '@lithe-sieve/core';
import { usePiece } from '../stores/open-piece/open-piece';

/** Changes of the card and of how many there are. */
export function useCardActions() {
  const piece = usePiece();

  /** @param done - Else it is dragged still. Metres. */
  function setWidth(cardWidth: number, done: boolean): void {
    piece.preview((doc) => ({ ...doc, cardWidth }));
    if (done) piece.finish(`Card ${cardWidth} m wide`);
  }

  function previewSet(change: Partial<CardSet>): void {
    piece.preview((doc) => ({ ...doc, set: { ...(doc.set ?? ONE_CARD), ...change } }));
  }

  function setSet(change: Partial<CardSet>, what: string): void {
    previewSet(change);
    piece.finish(`Cards: ${what}`);
  }

  return { setWidth, previewSet, setSet };
}
