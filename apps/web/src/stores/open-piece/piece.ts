import type { Piece } from '@lithe-sieve/contract';
import { recipeFacts, type SourceFacts, type Stroke } from '@lithe-sieve/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import * as piecesApi from '../../api/pieces.api';
import { fetchSourceFacts } from '../../api/sources.api';
import { DocHistory, patched } from '../../document/doc-history';
import { makeId } from '../../document/ids';
import { journal, putTogether, type Left } from '../../document/journal';
import { asCopy, type Keeper } from '../../document/keeper';
import { useNoticesStore } from '../notices.store';
import { useSavingStore } from '../saving.store';
import { useDocState } from './doc-state';

/** A piece as a page had it when it went elsewhere. */
interface LeftOpen {
  keeper: Keeper;
  past: DocHistory;
  strokes: ReadonlyMap<string, Stroke>;
  facts: Map<string, SourceFacts>;
}

/** A piece that is open: its document (saved, undone) and the traffic that saves it. */
function makePiece() {
  const id = ref('');
  const fileFacts = shallowRef(new Map<string, SourceFacts>());
  let keeper: Keeper | null = null;
  const saving = useSavingStore();
  const notices = useNoticesStore();
  const state = useDocState((change) => keeper?.push(change));
  const { doc, sources, strokes } = state.shown;
  /** Pieces that were left with changes on their way: opened again, they go on as they were left. */
  const left = new Map<string, LeftOpen>();
  let opening = '';

  /** Facts of all sources, those that are grown too. */
  const facts = computed(() => {
    const grown = sources.value.filter((s) => s.recipe);
    if (grown.length === 0) return fileFacts.value;
    return new Map([...fileFacts.value, ...grown.map((s) => [s.sha256, recipeFacts(s.recipe!)] as const)]);
  });

  /** Shows a piece, unless another is asked for before it comes. */
  async function open(pieceId: string): Promise<void> {
    opening = pieceId;
    if ((id.value === pieceId && doc.value) || goOn(pieceId)) return;
    const { piece, strokes: drawn } = await piecesApi.openWhole(pieceId);
    const pages = await journal.leftOf(pieceId).catch(() => []);
    if (opening !== pieceId) return; // another was asked for meanwhile
    leave();
    show(piece, drawn);
    notices.dismiss(`left ${pieceId}`);
    for (const page of pages) bringBack(page, piece);
  }

  /** Shows a piece as this page left it, where the server does not have all of that yet. */
  function goOn(pieceId: string): boolean {
    const waiting = left.get(pieceId);
    if (!waiting || waiting.keeper.queue.empty) return false;
    leave();
    left.delete(pieceId);
    ({ keeper } = waiting);
    id.value = pieceId;
    fileFacts.value = waiting.facts;
    state.start(waiting.past, waiting.strokes);
    return true;
  }

  function show(piece: Piece, drawn: readonly Stroke[]): void {
    id.value = piece.id;
    const opened = new DocHistory(piece.doc, piece.history, piece.position);
    fileFacts.value = new Map(Object.entries(piece.facts));
    state.start(opened, new Map(drawn.map((s) => [s.id, s])));
    const mine: Keeper = saving.keeperOf(piece.id, piece.revision, {
      doc: () => opened.doc,
      docBefore: () => opened.before ?? piece.doc,
      isOpen: () => isMine(),
      inGesture: state.inGesture,
      onKeptAside: (_copyId, _why, newest) => {
        if (newest && isMine()) show(newest.piece, newest.strokes);
      },
    });
    const isMine = () => keeper === mine;
    keeper = mine;
  }

  /**
   * What a page that is gone had not got to the server: done again where the server is still at the revision that it was
   * done on, else a piece of its own.
   */
  function bringBack({ changes, base }: Left, piece: Piece): void {
    const fresh = changes.filter(({ edit }) => !piece.lastEdits.includes(edit.editId));
    const forget = () => changes.forEach(({ edit }) => void journal.drop(edit.editId).catch(() => undefined));
    if (fresh.length === 0) return forget();
    try {
      if (fresh[0].base !== piece.revision || keeper?.queue.empty === false) throw new Error('changed since');
      for (const { edit } of fresh) {
        if (edit.kind === 'do') state.edit(edit.entry.label, (d) => patched(d, edit.entry.patches), edit.strokes);
        else goBack(edit.kind);
      }
      forget(); // each is in the journal of this page now
    } catch {
      const drawn = fresh.flatMap(({ edit }) => (edit.kind === 'do' ? (edit.strokes ?? []) : []));
      const editIds = changes.map(({ edit }) => edit.editId);
      const version = base && versionOf(base, changes);
      const why = 'This piece was changed elsewhere after a page was closed with unsaved changes.';
      if (version)
        void saving.keepLeftVersion(
          { id: makeId(), pieceId: piece.id, doc: asCopy(version), strokes: drawn, why },
          editIds,
        );
      else
        notices.tell({
          id: `left ${piece.id}`,
          about: { pieceId: piece.id, name: piece.doc.name },
          bad: true,
          text: `${why} They are still in this browser, but no longer fit this piece.`,
          remedy: '',
        });
    }
  }

  /** What is still waiting to be sent of the piece that is left goes on being sent. */
  function leave(): void {
    state.abandon();
    for (const [pieceId, waiting] of left) if (waiting.keeper.queue.empty) left.delete(pieceId);
    const past = state.past();
    if (keeper && past && !keeper.queue.empty)
      left.set(id.value, { keeper, past, strokes: strokes.value, facts: fileFacts.value });
    keeper = null;
  }

  function close(): void {
    opening = '';
    leave();
    state.end();
    id.value = '';
  }

  function goBack(kind: 'undo' | 'redo'): void {
    if (state.goBack(kind)) void learnFacts();
  }

  /** A source that comes back by undo may not have been part of the piece when it was opened. */
  async function learnFacts(): Promise<void> {
    for (const { sha256 } of doc.value?.sources ?? []) {
      if (!facts.value.has(sha256)) learn(sha256, await fetchSourceFacts(sha256));
    }
  }

  function learn(sha256: string, learned: SourceFacts): void {
    fileFacts.value = new Map(fileFacts.value).set(sha256, learned);
  }

  const { edit, editFollowed, addStroke, begin, preview, finish, abandon, glanceAt, glancing, inGesture, wasUndone } =
    state;
  return {
    ...state.shown,
    id,
    facts,
    open,
    close,
    edit: (label: string, change: Parameters<typeof edit>[1]) => edit(label, change),
    editFollowed,
    addStroke,
    begin,
    preview,
    finish: (label: string) => finish(label),
    abandon,
    glanceAt,
    glancing,
    inGesture,
    wasUndone,
    undo: () => goBack('undo'),
    redo: () => goBack('redo'),
    learn,
    revision: () => keeper?.queue.current ?? 0,
    isSaved: () => keeper?.queue.empty ?? true,
  };
}

export const definePiece = (scope: string) => defineStore(`piece ${scope}`, makePiece);
export type PieceStore = ReturnType<ReturnType<typeof definePiece>>;

/** What changes of a page that is gone lead to; null where they do not fit on what was kept. */
function versionOf(base: Left['base'] & object, changes: Left['changes']) {
  try {
    return putTogether(base, changes, patched);
  } catch {
    return null;
  }
}
