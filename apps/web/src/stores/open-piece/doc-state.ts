import type { HistoryEntry } from '@lithe-sieve/contract';
import { isHandStep, type HandStep, type PieceDoc, type Stroke } from '@lithe-sieve/core';
import { computed, ref, shallowRef } from 'vue';
import type { DocHistory } from '../../document/doc-history';
import type { Keeper } from '../../document/keeper';
import { calm } from '../../engine/calm';
import { useNoticesStore } from '../notices.store';

const NO_STEPS: PieceDoc['run'] = [];
const NO_SOURCES: PieceDoc['sources'] = [];

function withStroke(step: HandStep, id: string): HandStep {
  return { ...step, params: { ...step.params, strokes: [...step.params.strokes, id] } } as HandStep;
}

/** The document of an open piece with its history: what is shown of both, gestures, undo. @param push - Sends a change. */
export function useDocState(push: (change: Parameters<Keeper['push']>[0]) => void) {
  const doc = shallowRef<PieceDoc | null>(null); // replaced whole, never edited
  const history = shallowRef<readonly HistoryEntry[]>([]);
  const position = ref(0);
  /** What was done by hand, what was undone too; replaced whole. */
  const strokes = shallowRef<ReadonlyMap<string, Stroke>>(new Map());
  const notices = useNoticesStore();
  let past: DocHistory | null = null;
  /** What is shown in place of the document while it is only pointed at, and what that document was: no part of it. */
  const glance = shallowRef<{ shown: PieceDoc; of: PieceDoc } | null>(null);

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

  function start(opened: DocHistory, drawn: ReadonlyMap<string, Stroke>): void {
    past = opened;
    strokes.value = drawn;
    showPast();
  }

  function end(): void {
    past = null;
    glance.value = null;
    doc.value = null;
  }

  /** What the history came to, for all that shows it. */
  function showPast(): void {
    if (!past) return;
    if (glance.value?.of !== past.doc) glance.value = null; // what it was pointed at for has changed
    doc.value = glance.value?.shown ?? past.doc;
    history.value = past.entries;
    position.value = past.position;
  }

  /** Shows what a change would come to, until it is called without one; nothing is saved or undone of it. */
  function glanceAt(change: ((doc: PieceDoc) => PieceDoc) | null): void {
    if (!past || (!change && !glance.value)) return;
    glance.value = change && !past.inGesture ? { shown: change(past.doc), of: past.doc } : null;
    showPast();
  }

  /** One finished change. */
  function edit(label: string, change: (doc: PieceDoc) => PieceDoc, drawn?: readonly Stroke[]): void {
    if (!past) return;
    if (drawn) strokes.value = new Map([...strokes.value, ...drawn.map((s) => [s.id, s] as const)]);
    past.preview(change);
    finish(label, drawn);
  }

  /** A change that a followed file made; of many in a row only the newest are kept one by one. */
  function editFollowed(label: string, change: (doc: PieceDoc) => PieceDoc): void {
    preview(change);
    finish(label, undefined, true);
  }

  /** One stroke on top of a step: an entry of its own. */
  function addStroke(stepId: string, stroke: Stroke, label: string): void {
    const isOwn = (step: PieceDoc['run'][number]): step is HandStep => step.id === stepId && isHandStep(step);
    edit(label, (d) => ({ ...d, run: d.run.map((s) => (isOwn(s) ? withStroke(s, stroke.id) : s)) }), [stroke]);
  }

  /** A gesture: `begin`, any number of `preview`, then `finish` (one entry of history) or `abandon`. */
  const begin = () => past?.begin();

  function preview(change: (doc: PieceDoc) => PieceDoc): void {
    past?.preview(change);
    showPast();
  }

  function finish(label: string, drawn?: readonly Stroke[], followed = false): void {
    const done = past?.finish(label, followed);
    showPast();
    if (done?.kind === 'done') push({ kind: 'do', entry: done.entry, ...(drawn ? { strokes: [...drawn] } : {}) });
    if (done?.kind !== 'not-valid') return;
    const text = `“${label}” was not applied: the result would not be valid.`;
    notices.tell({ id: 'not-valid', bad: true, text, remedy: '' });
  }

  function abandon(): void {
    past?.abandon();
    showPast();
  }

  /** @returns false where there is nothing to go back to. */
  function goBack(kind: 'undo' | 'redo'): boolean {
    const patches = past?.[kind]();
    showPast();
    if (patches) push({ kind, patches });
    return Boolean(patches);
  }

  return {
    shown: {
      doc,
      run,
      sources,
      material,
      saidMaterial,
      strokes,
      history,
      position,
      canUndo,
      canRedo,
      undoLabel,
      redoLabel,
    },
    past: () => past,
    start,
    end,
    edit,
    editFollowed,
    addStroke,
    begin,
    preview,
    finish,
    abandon,
    goBack,
    glanceAt,
    /** Whether what is shown is not the document. */
    glancing: computed(() => glance.value !== null),
    /** A drag or a typed number is under way. */
    inGesture: () => past?.inGesture ?? false,
    /** These bytes were a source, and the change that brought them was undone. */
    wasUndone: (sha256: string) => past?.undid(sha256) ?? false,
  };
}
