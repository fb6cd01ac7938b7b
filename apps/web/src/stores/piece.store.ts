import { pieceDocSchema, type HistoryEntry, type Piece, type WirePatch } from '@lithe-sieve/contract';
import type { PieceDoc, SourceFacts, Stroke } from '@lithe-sieve/core';
import { applyPatches, type Patch } from 'immer';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import { ApiError } from '../api/http';
import { calm } from '../components/calm';
import * as piecesApi from '../api/pieces.api';
import { fetchSourceFacts } from '../api/sources.api';
import { diffDocs } from '../document/diff';
import { journal, type Kept } from '../document/journal';
import { sharing } from '../document/share';
import { SaveQueue, type SaveState } from '../document/save-queue';

const NO_STEPS: PieceDoc['run'] = [];
const NO_SOURCES: PieceDoc['sources'] = [];

/** The open piece: document state (saved, undone) and the traffic that saves it. */
export const usePieceStore = defineStore('piece', () => {
  const id = ref('');
  const doc = shallowRef<PieceDoc | null>(null); // replaced whole, never edited
  const facts = shallowRef(new Map<string, SourceFacts>());
  const history = shallowRef<HistoryEntry[]>([]);
  /** What was done by hand, what was undone too; replaced whole. */
  const strokes = shallowRef<ReadonlyMap<string, Stroke>>(new Map());
  const position = ref(0);
  const saveState = ref<SaveState>('saved');
  /** After a second tab was first: the piece that keeps this tab's version. */
  const keptAside = ref<{ id: string } | null>(null);
  const refusal = ref('');
  let queue: SaveQueue | null = null;
  const leftDocs = new WeakMap<SaveQueue, PieceDoc>(); // as they were when their piece was left
  let mark: PieceDoc | null = null; // where the gesture under way began

  // each keeps its identity while the others change: a drag of the cutoff renders only what shows the material
  const run = computed(() => doc.value?.run ?? NO_STEPS);
  const sources = computed(() => doc.value?.sources ?? NO_SOURCES);
  const material = computed(() => doc.value?.material ?? null);
  /** The material for what says it in words. */
  const saidMaterial = calm(() => material.value);

  const canUndo = computed(() => position.value > 0);
  const canRedo = computed(() => position.value < history.value.length);
  const undoLabel = computed(() => history.value[position.value - 1]?.label ?? '');
  const redoLabel = computed(() => history.value[position.value]?.label ?? '');

  async function open(pieceId: string): Promise<void> {
    const piece = await piecesApi.openPiece(pieceId);
    const drawn = hasStrokes(piece) ? await piecesApi.fetchStrokes(pieceId) : [];
    const left = await journal.leftOf(pieceId).catch(() => []);
    leave();
    id.value = pieceId;
    strokes.value = new Map(drawn.map((s) => [s.id, s]));
    mark = null;
    doc.value = piece.doc;
    facts.value = new Map(Object.entries(piece.facts));
    history.value = piece.history;
    position.value = piece.position;
    saveState.value = 'saved';
    refusal.value = '';
    const mine: SaveQueue = new SaveQueue(piece.revision, {
      send: (edit) => piecesApi.sendEdit(pieceId, edit),
      keep: (edit, base) => journal.put(pieceId, base, edit),
      confirmed: (editId) => void journal.drop(editId).catch(() => undefined),
      onState: (state) => queue === mine && (saveState.value = state),
      onStale: () => void keepAside(pieceId, mine),
      onRefused: (error) => {
        if (queue !== mine) return;
        refusal.value = error instanceof Error ? error.message : String(error);
        void open(pieceId);
      },
      isStale: (error) => error instanceof ApiError && error.code === 'stale-revision',
      isUnreachable: (error) => error instanceof ApiError && (error.code === 'unreachable' || error.status >= 502),
    });
    queue = mine;
    bringBack(left, piece.lastEdits);
  }

  /** What a page that is gone had not got to the server: done again, on top of what the server has. */
  function bringBack(left: readonly Kept[], known: readonly string[]): void {
    for (const { edit, base } of left) {
      void journal.drop(edit.editId).catch(() => undefined);
      if (known.includes(edit.editId) || !doc.value) continue;
      try {
        if (edit.kind === 'do') {
          const next = patched(doc.value, edit.entry.patches);
          doEdit(edit.entry.label, () => next, edit.strokes);
        } else if (base === revision() && edit.kind === 'undo') undo();
        else if (base === revision()) redo();
      } catch {
        const what = edit.kind === 'do' ? edit.entry.label : edit.kind;
        refusal.value = `“${what}” was not saved when the page ended, and does not fit what is here now.`;
      }
    }
  }

  /** What is still waiting to be sent of the piece that is left goes on being sent. */
  function leave(): void {
    if (queue && doc.value) leftDocs.set(queue, doc.value);
    queue = null;
  }

  /** Another tab was first: this version becomes a piece of its own, and the newest is loaded. */
  async function keepAside(pieceId: string, from: SaveQueue): Promise<void> {
    const mine = queue === from ? doc.value : leftDocs.get(from);
    if (!mine) return;
    const copy = await piecesApi.copyPiece({ ...mine, name: `${mine.name.slice(0, 60)} (other tab)` });
    if (queue !== from) return;
    await open(pieceId);
    keptAside.value = copy;
  }

  function close(): void {
    leave();
    doc.value = null;
    id.value = '';
  }

  /** One finished change. */
  function edit(label: string, change: (doc: PieceDoc) => PieceDoc): void {
    doEdit(label, change);
  }

  /** One stroke on top of a step: an entry of its own. */
  function addStroke(stepId: string, stroke: Stroke, label: string): void {
    doEdit(
      label,
      (d) => ({
        ...d,
        run: d.run.map((s) =>
          s.id === stepId && s.kind === 'strokes' ? { ...s, params: { strokes: [...s.params.strokes, stroke.id] } } : s,
        ),
      }),
      [stroke],
    );
  }

  function doEdit(label: string, change: (doc: PieceDoc) => PieceDoc, drawn?: readonly Stroke[]): void {
    if (!doc.value) return;
    if (drawn) strokes.value = new Map([...strokes.value, ...drawn.map((s) => [s.id, s] as const)]);
    begin();
    doc.value = change(doc.value);
    finish(label, drawn);
  }

  /** A gesture: `begin`, any number of `preview`, then `finish` (one entry of history) or `abandon`. */
  function begin(): void {
    mark ??= doc.value;
  }

  function preview(change: (doc: PieceDoc) => PieceDoc): void {
    if (!doc.value) return;
    begin();
    doc.value = change(doc.value);
  }

  function finish(label: string, drawn?: readonly Stroke[]): void {
    const from = mark;
    mark = null;
    if (!from || !doc.value || from === doc.value) return;
    const { patches, inverse } = diffDocs(from, doc.value);
    if (patches.length === 0) {
      doc.value = from;
      return;
    }
    const entry = { label, patches, inverse };
    history.value = [...history.value.slice(0, position.value), entry];
    position.value = history.value.length;
    queue?.push({ kind: 'do', entry, ...(drawn ? { strokes: [...drawn] } : {}) });
  }

  /** A drag or a typed number is under way. */
  const inGesture = () => mark !== null;

  /** These bytes were a source, and the change that brought them was undone. */
  function wasUndone(sha256: string): boolean {
    const undone = history.value.slice(position.value);
    return undone.some(({ patches }) => JSON.stringify(patches).includes(sha256));
  }

  function abandon(): void {
    if (mark) doc.value = mark;
    mark = null;
  }

  function undo(): void {
    abandon();
    const entry = history.value[position.value - 1];
    if (!entry || !doc.value) return;
    doc.value = patched(doc.value, entry.inverse);
    position.value--;
    queue?.push({ kind: 'undo' });
    void learnFacts();
  }

  function redo(): void {
    abandon();
    const entry = history.value[position.value];
    if (!entry || !doc.value) return;
    doc.value = patched(doc.value, entry.patches);
    position.value++;
    queue?.push({ kind: 'redo' });
    void learnFacts();
  }

  /** A source that comes back by undo may not have been part of the piece when it was opened. */
  async function learnFacts(): Promise<void> {
    for (const { sha256 } of doc.value?.sources ?? []) {
      if (!facts.value.has(sha256)) learn(sha256, await fetchSourceFacts(sha256));
    }
  }

  function learn(sha256: string, its: SourceFacts): void {
    facts.value = new Map(facts.value).set(sha256, its);
  }

  const revision = () => queue?.current ?? 0;
  const isSaved = () => queue?.empty ?? true;

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
    saveState,
    keptAside,
    refusal,
    canUndo,
    canRedo,
    undoLabel,
    redoLabel,
    open,
    close,
    edit,
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

/** Whether anything was ever done by hand: strokes that were undone are in the history alone. */
function hasStrokes({ doc, history }: Piece): boolean {
  return doc.run.some((s) => s.kind === 'strokes') || JSON.stringify(history).includes('"strokes"');
}

/** What lies in the history may be from before a parameter came: it gets its default, as on the server. */
function patched(doc: PieceDoc, patches: readonly WirePatch[]): PieceDoc {
  return sharing(doc, pieceDocSchema.parse(applyPatches(doc, patches as Patch[])));
}
