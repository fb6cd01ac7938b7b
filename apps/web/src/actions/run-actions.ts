import {
  dropBackdrop,
  endOfStretch,
  makeStep,
  moveStep,
  stepKind,
  type Material,
  type PieceDoc,
  type SourceRole,
  type StepEntry,
  type StepKindName,
  type StepParams,
} from '@lithe-sieve/core';
import { makeId } from '../document/ids';
import { useBenchStore, type Picking } from '../stores/bench.store';
import { useEngine, usePiece } from '../stores/open-piece/open-piece';
import { startingThickness } from './starting-thickness';
import { stepLabel } from '../document/step-labels';

/** The cutoff of alpha itself, whatever factor it is multiplied by. */
const cutoffOfAlpha = ({ cutoff, opacity }: Pick<Material, 'cutoff' | 'opacity'>) =>
  Math.max(0.01, Math.min(1, opacity > 0 ? cutoff / opacity : 1));

/** Half width of a scribble to begin with, texels: a two-hundredth of the picture. */
export function startingRadius(size: { width: number; height: number } | null): number {
  return Math.max(1, Math.round(Math.max(size?.width ?? 0, size?.height ?? 0) / 200));
}

/** What a step that does nothing without presses asks for as soon as it is inserted. */
function firstPress({ id, kind }: StepEntry, size: { width: number; height: number } | null): Picking | null {
  if (kind === 'from-touch') return { gives: 'texel', stepId: id, list: 'at' };
  if (kind === 'from-strokes') return { gives: 'scribble', stepId: id, effect: 'keep', radius: startingRadius(size) };
  return null;
}

/** Everything that can be done to the run, by mouse and by keys alike. */
export function useRunActions() {
  const piece = usePiece();
  const bench = useBenchStore();
  const engine = useEngine();

  const selectedStep = (): StepEntry | undefined => {
    const { selection } = bench;
    return selection.kind === 'step' ? piece.run.find((s) => s.id === selection.id) : undefined;
  };
  const withRun = (change: (run: StepEntry[]) => StepEntry[]) => (doc: PieceDoc) => ({ ...doc, run: change(doc.run) });

  /**
   * Behind the selected step where that is of the same stretch, else at the end of the stretch.
   *
   * @param found - That step as it suits the picture, with those that belong to it.
   */
  function insert(kind: StepKindName, found: readonly StepEntry[] = []): void {
    const steps = found.map((s) => ({ ...s, id: makeId() }));
    if (steps.length === 0) steps.push(makeStep(makeId(), kind, startingParams(kind)));
    const [step] = steps;
    piece.edit(
      `Insert ${stepKind(kind).label}`,
      withRun((run) => {
        const selected = selectedStep();
        const fits = selected && stepKind(selected.kind).stretch === stepKind(kind).stretch;
        const at = fits ? run.indexOf(selected) + 1 : endOfStretch(run, kind);
        return run.toSpliced(at, 0, ...steps);
      }),
    );
    bench.selection = { kind: 'step', id: step.id };
    bench.picking = firstPress(step, engine.size);
  }

  function startingParams(kind: StepKindName): Partial<StepParams[StepKindName]> {
    const first = piece.sources[0];
    const facts = first && piece.facts.get(first.sha256);
    const others = piece.sources.slice(1);
    const sourceOf = (role: SourceRole) => others.find((s) => s.role === role)?.id ?? '';
    const onlyOther = others.length === 1 ? others[0].id : '';
    if (kind === 'match') return { sourceId: onlyOther };
    if (kind === 'from-two-backdrops') return { sourceId: sourceOf('other backdrop') || onlyOther };
    if (kind === 'cut-below' || kind === 'height-from-picture') return { sourceId: sourceOf('height') };
    if (kind === 'normal-from-picture') return { sourceId: sourceOf('normal') || onlyOther };
    const { makes } = stepKind(kind);
    const another = makes === 'height' && piece.run.some((s) => s.on && stepKind(s.kind).makes === 'height');
    if (kind === 'height-from-edge' && another) return { blend: 'add', weight: 0.5 };
    if (kind === 'from-channel' && sourceOf('mask')) return { sourceId: sourceOf('mask'), channel: 'luminance' };
    if (kind === 'from-channel') return { channel: facts?.alpha === 'present' ? 'alpha' : 'luminance' };
    if (kind === 'from-colour' && facts) return dropBackdrop(facts);
    if (kind === 'translucency') return startingThickness(engine.mask?.levels ?? [], engine.cardWidth);
    if (kind === 'harden-edge' && piece.material) return { cutoff: cutoffOfAlpha(piece.material) };
    return {};
  }

  /** Narrows the edge at the material's cutoff: by the last step of the mask where that does so already, else by a new one. */
  function hardenEdge(width: number): void {
    if (!piece.material) return;
    const { run } = piece;
    const end = endOfStretch(run, 'harden-edge');
    const last = run[end - 1];
    const params = { width, cutoff: cutoffOfAlpha(piece.material) };
    const step =
      last?.kind === 'harden-edge' ? { ...last, on: true, params } : makeStep(makeId(), 'harden-edge', params);
    piece.edit(
      `Harden edge to ${width} texels`,
      withRun((before) => before.toSpliced(step.id === last?.id ? end - 1 : end, step.id === last?.id ? 1 : 0, step)),
    );
  }

  function remove(step: StepEntry): void {
    const run = piece.run;
    const at = run.indexOf(step);
    const next = run[at + 1] ?? run[at - 1];
    piece.edit(
      `Delete ${stepLabel(step)}`,
      withRun((r) => r.filter((s) => s.id !== step.id)),
    );
    bench.selection = next ? { kind: 'step', id: next.id } : { kind: 'material' };
  }

  function toggle(step: StepEntry): void {
    piece.edit(
      `${step.on ? 'Switch off' : 'Switch on'} ${stepLabel(step)}`,
      withRun((r) => r.map((s) => (s.id === step.id ? { ...s, on: !s.on } : s))),
    );
  }

  function move(step: StepEntry, by: number): void {
    piece.edit(
      `Move ${stepLabel(step)}`,
      withRun((r) => moveStep(r, step.id, by)),
    );
  }

  function withParams(id: string, params: object) {
    return withRun((r) =>
      r.map((s) => (s.id === id ? ({ ...s, params: { ...s.params, ...params } } as StepEntry) : s)),
    );
  }

  /** While a control is dragged. */
  function previewParams(step: StepEntry, params: object): void {
    piece.preview(withParams(step.id, params));
  }

  function setParams(step: StepEntry, params: object, what: string): void {
    piece.preview(withParams(step.id, params));
    piece.finish(`${stepLabel(step)}: ${what}`);
  }

  /** Computes it by the newest version of the step from now on. */
  function takeNewest(step: StepEntry): void {
    const { version } = stepKind(step.kind);
    piece.edit(
      `${stepLabel(step)}: version ${version}`,
      withRun((run) => run.map((s) => (s.id === step.id ? { ...s, version } : s))),
    );
  }

  /** Selects what stands next to the selection in the strip. */
  function selectNext(by: number): void {
    const doc = piece.doc;
    if (!doc) return;
    const order = [
      ...doc.sources.map((s) => ({ kind: 'source' as const, id: s.id })),
      ...doc.run.map((s) => ({ kind: 'step' as const, id: s.id })),
    ];
    const { selection } = bench;
    const at = 'id' in selection ? order.findIndex((o) => o.id === selection.id) : by > 0 ? -1 : order.length;
    const next = order[at + by];
    if (next) bench.selection = next;
  }

  return { selectedStep, insert, hardenEdge, remove, toggle, move, previewParams, setParams, takeNewest, selectNext };
}
