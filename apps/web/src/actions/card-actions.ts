import {
  CARD_NORMALS,
  CARD_OUTLINE,
  CARD_SIDES,
  FLAT,
  fittedAgain,
  laidOnMesh,
  offMesh,
  ONE_CARD,
  type CardForm,
  type CardMesh,
  type CardNormals,
  type CardOutline,
  type CardSet,
  type CardSides,
} from '@lithe-sieve/core';
import type { StoredMesh } from '@lithe-sieve/contract';
import { useBringInStore } from '../stores/bring-in.store';
import { useNoticesStore } from '../stores/notices.store';
import { usePiece } from '../stores/open-piece/open-piece';

/** How the back of a card comes about. */
export type Sided = 'one' | 'flag' | 'geometry';

/** Changes of the card and of how many there are. */
export function useCardActions() {
  const piece = usePiece();
  const bringIn = useBringInStore();
  const notices = useNoticesStore();

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

  function previewSides(change: Partial<CardSides>): void {
    piece.preview((doc) => ({ ...doc, sides: { ...(doc.sides ?? CARD_SIDES), ...change } }));
  }

  function setSides(change: Partial<CardSides>, what: string): void {
    previewSides(change);
    piece.finish(`Back: ${what}`);
  }

  /** @param change - null: as the surface has them. */
  function previewNormals(change: Partial<CardNormals> | null): void {
    piece.preview(({ normals, ...doc }) =>
      change ? { ...doc, normals: { ...(normals ?? CARD_NORMALS), ...change } } : doc,
    );
  }

  function setNormals(change: Partial<CardNormals> | null, what: string): void {
    previewNormals(change);
    piece.finish(`Card normals: ${what}`);
  }

  /** How the back comes about; one of triangles shows its faces alone, else each would be drawn twice. */
  function setSided(to: Sided, what: string): void {
    piece.preview(({ sides, ...doc }) => ({
      ...doc,
      ...(to === 'geometry' ? { sides: sides ?? CARD_SIDES } : {}),
      material: { ...doc.material, doubleSided: to === 'flag' },
    }));
    piece.finish(`Back: ${what}`);
  }

  /** @param change - null: it is not cut. */
  function previewOutline(change: Partial<CardOutline> | null): void {
    piece.preview(({ outline = CARD_OUTLINE, ...doc }) => {
      if (!change) return doc;
      // it is fitted again, but where the corners stay and only what they may do changes
      return { ...doc, outline: { ...('cuts' in change ? outline : fittedAgain(outline)), ...change } };
    });
  }

  function setOutline(change: Partial<CardOutline> | null, what: string): void {
    previewOutline(change);
    piece.finish(`Outline: ${what}`);
  }

  /** Lays the piece on a mesh. */
  function layOnMesh({ sha256, fileName, facts }: StoredMesh): void {
    const mesh: CardMesh = { sha256, fileName, metres: 1, up: 'y' };
    piece.preview((doc) => laidOnMesh(doc, mesh, facts.size));
    piece.finish(`Mesh ${fileName}`);
  }

  /** A mesh from a file; one that cannot be read says so among what comes in, and all stays as it is. */
  async function bringMesh(file: File): Promise<void> {
    const opened = piece.id;
    const stored = await bringIn.sendMesh(file);
    if (!stored) return;
    if (piece.id === opened) layOnMesh(stored);
    else {
      const text = `${stored.fileName} was read after its piece was left: it is in the studio, and no piece lies on it.`;
      notices.tell({ id: `mesh ${stored.sha256}`, bad: true, text, remedy: 'Choose the file again in that piece.' });
    }
  }

  function setMesh(
    change: Partial<Pick<CardMesh, 'metres' | 'up' | 'slot'>>,
    size: readonly number[],
    what: string,
  ): void {
    piece.preview((doc) => {
      if (!doc.mesh) return doc;
      const { slot, ...others } = { ...doc.mesh, ...change };
      return laidOnMesh(doc, slot === undefined ? others : { ...others, slot }, size);
    });
    piece.finish(`Mesh: ${what}`);
  }

  function leaveMesh(): void {
    piece.preview(offMesh);
    piece.finish('Back to the card');
  }

  return {
    bringMesh,
    setMesh,
    leaveMesh,
    setWidth,
    previewSet,
    setSet,
    previewForm,
    setForm,
    previewSides,
    setSides,
    setSided,
    previewNormals,
    setNormals,
    previewOutline,
    setOutline,
  };
}
