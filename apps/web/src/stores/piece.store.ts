import type { HistoryEntry, Piece } from '@lithe-sieve/contract';
import {
  isHandStep,
  recipeFacts,
  type HandStep,
  type PieceDoc,
  type SourceFacts,
  type Stroke,
} from '@lithe-sieve/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import { calm } from '../engine/calm';
import * as piecesApi from '../api/pieces.api';
import { fetchSourceFacts } from '../api/sources.api';
import { DocHistory, patched } from '../document/doc-history';
import { makeId } from '../document/ids';
import { journal, putTogether, type Left } from '../document/journal';
import { asCopy, type Keeper } from '../document/keeper';
import { useNoticesStore } from './notices.store';
import { useSavingStore } from './saving.store';

const NO_STEPS: PieceDoc['run'] = [];
const NO_SOURCES: PieceDoc['sources'] = [];

/** A piece as a page had it when it went elsewhere. */
interface LeftOpen {
  keeper: Keeper;
  past: DocHistory;
  strokes: ReadonlyMap<string, Stroke>;
  facts: Map<string, SourceFacts>;
}

function withStroke(step: HandStep, id: string): HandStep {
  return { ...step, params: { ...step.params, strokes: [...step.params.strokes, id] } } as HandStep;
}

/** The open piece: document state (saved, undone) and the traffic that saves it. */
export const usePieceStore = defineStore('piece', () => {
  const id = ref('');
  const doc = shallowRef<PieceDoc | null>(null); // replaced whole, never edited
  const fileFacts = shallowRef(new Map<string, SourceFacts>());
  const history = shallowRef<readonly HistoryEntry[]>([]);
  /** What was done by hand, what was undone too; replaced whole. */
  const strokes = shallowRef<ReadonlyMap<string, Stroke>>(new Map());
  const position = ref(0);
  let keeper: Keeper | null = null;
  const saving = useSavingStore();
  const notices = useNoticesStore();
  let past: DocHistory | null = null;
  /** Pieces that were left with changes on their way: opened again, they go on as they were left. */
  const left = new Map<string, LeftOpen>();
  let opening = '';

  // each keeps its identity while the others change: a drag of the cutoff renders only what shows the material
  const run = computed(() => doc.value?.run ?? NO_STEPS);
  const sources = computed(() => doc.value?.sources ?? NO_SOURCES);
  const material = computed(() => doc.value?.material ?? null);
  /** Facts of all sources, those that are grown too. */
  const facts = computed(() => {
    const grown = sources.value.filter((s) => s.recipe);
    if (grown.length === 0) return fileFacts.value;
    return new Map([...fileFacts.value, ...grown.map((s) => [s.sha256, recipeFacts(s.recipe!)] as const)]);
  });
  /** The material for what says it in words. */
  const saidMaterial = calm(() => material.value);

  const canUndo = computed(() => position.value > 0);
  const canRedo = computed(() => position.value < history.value.length);
  const undoLabel = computed(() => history.value[position.value - 1]?.label ?? '');
  const redoLabel = computed(() => history.value[position.value]?.label ?? '');

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
    ({ keeper, past } = waiting);
    id.value = pieceId;
    strokes.value = waiting.strokes;
    fileFacts.value = waiting.facts;
    showPast();
    return true;
  }

  function show(piece: Piece, drawn: readonly Stroke[]): void {
    id.value = piece.id;
    strokes.value = new Map(drawn.map((s) => [s.id, s]));
    const opened = new DocHistory(piece.doc, piece.history, piece.position);
    past = opened;
    fileFacts.value = new Map(Object.entries(piece.facts));
    showPast();
    const mine: Keeper = saving.keeperOf(piece.id, piece.revision, {
      doc: () => opened.doc,
      docBefore: () => opened.before ?? piece.doc,
      isOpen: () => isMine(),
      inGesture,
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
        if (edit.kind === 'do') doEdit(edit.entry.label, (d) => patched(d, edit.entry.patches), edit.strokes);
        else if (edit.kind === 'undo') undo();
        else redo();
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
    abandon();
    for (const [pieceId, waiting] of left) if (waiting.keeper.queue.empty) left.delete(pieceId);
    if (keeper && past && !keeper.queue.empty)
      left.set(id.value, { keeper, past, strokes: strokes.value, facts: fileFacts.value });
    keeper = null;
  }

  function close(): void {
    opening = '';
    leave();
    past = null;
    doc.value = null;
    id.value = '';
  }

  /** One finished change. */
  function edit(label: string, change: (doc: PieceDoc) => PieceDoc): void {
    doEdit(label, change);
  }

  /** A change that a followed file made; of many in a row only the newest are kept one by one. */
  function editFollowed(label: string, change: (doc: PieceDoc) => PieceDoc): void {
    preview(change);
    finish(label, undefined, true);
  }

  /** One stroke on top of a step: an entry of its own. */
  function addStroke(stepId: string, stroke: Stroke, label: string): void {
    doEdit(
      label,
      (d) => ({
        ...d,
        run: d.run.map((s) => (s.id === stepId && isHandStep(s) ? withStroke(s, stroke.id) : s)),
      }),
      [stroke],
    );
  }

  function doEdit(label: string, change: (doc: PieceDoc) => PieceDoc, drawn?: readonly Stroke[]): void {
    if (!past) return;
    if (drawn) strokes.value = new Map([...strokes.value, ...drawn.map((s) => [s.id, s] as const)]);
    past.preview(change);
    finish(label, drawn);
  }

  /** What the history came to, for all that shows it. */
  function showPast(): void {
    if (!past) return;
    doc.value = past.doc;
    history.value = past.entries;
    position.value = past.position;
  }

  /** A gesture: `begin`, any number of `preview`, then `finish` (one entry of history) or `abandon`. */
  const begin = () => past?.begin();

  function preview(change: (doc: PieceDoc) => PieceDoc): void {
    past?.preview(change);
    showPast();
  }

  function finish(label: string, drawn?: readonly Stroke[], followed = false): void {
    const end = past?.finish(label, followed);
    showPast();
    if (end?.kind === 'done') keeper?.push({ kind: 'do', entry: end.entry, ...(drawn ? { strokes: [...drawn] } : {}) });
    if (end?.kind !== 'not-valid') return;
    const text = `“${label}” was not applied: the result would not be valid.`;
    notices.tell({ id: 'not-valid', bad: true, text, remedy: '' });
  }

  /** A drag or a typed number is under way. */
  const inGesture = () => past?.inGesture ?? false;

  /** These bytes were a source, and the change that brought them was undone. */
  const wasUndone = (sha256: string) => past?.undid(sha256) ?? false;

  function abandon(): void {
    past?.abandon();
    showPast();
  }

  const undo = () => goBack('undo');
  const redo = () => goBack('redo');

  function goBack(kind: 'undo' | 'redo'): void {
    const patches = past?.[kind]();
    showPast();
    if (!patches) return;
    keeper?.push({ kind, patches });
    void learnFacts();
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

  const revision = () => keeper?.queue.current ?? 0;
  const isSaved = () => keeper?.queue.empty ?? true;

  return {
    id,
    doc,
    run,
    sources,
    material,
    saidMaterial,
    facts,
    strokes,
    history,
    position,
    canUndo,
    canRedo,
    undoLabel,
    redoLabel,
    open,
    close,
    edit,
    editFollowed,
    addStroke,
    begin,
    preview,
    finish,
    abandon,
    inGesture,
    wasUndone,
    undo,
    redo,
    learn,
    revision,
    isSaved,
  };
});

/** What changes of a page that is gone lead to; null where they do not fit on what was kept. */
function versionOf(base: PieceDoc, changes: Left['changes']): PieceDoc | null {
  try {
    return putTogether(base, changes, patched);
  } catch {
    return null;
  }
}
