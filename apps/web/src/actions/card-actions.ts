import { CARD_OUTLINE, FLAT, ONE_CARD, type CardForm, type CardOutline, type CardSet } from '@lithe-sieve/core';
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

  function previewForm(change: Partial<CardForm>): void {
    piece.preview((doc) => ({ ...doc, form: { ...(doc.form ?? FLAT), ...change } }));
  }

  function setForm(change: Partial<CardForm>, what: string): void {
    previewForm(change);
    piece.finish(`Card: ${what}`);
  }

  /** @param change - null: it is not cut. */
  function previewOutline(change: Partial<CardOutline> | null): void {
    piece.preview(({ outline = CARD_OUTLINE, ...doc }) =>
      change ? { ...doc, outline: { ...outline, ...change } } : doc,
    );
  }

  function setOutline(change: Partial<CardOutline> | null, what: string): void {
    previewOutline(change);
    piece.finish(`Outline: ${what}`);
  }

  return { setWidth, previewSet, setSet, previewForm, setForm, previewOutline, setOutline };
}
