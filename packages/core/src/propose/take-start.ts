import { isHandStep, type PieceDoc, type SourceRef, type StepEntry } from '../piece/piece-doc.ts';
import { dropBackdrop } from '../piece/starting-run.ts';
import type { SourceFacts } from '../piece/source-facts.ts';
import { stepKind, type StepKindName, type StepParams } from '../steps/registry.ts';

/** What was found in the picture that a start is taken up for. */
export interface FoundInPicture {
  facts?: SourceFacts | undefined;
  /** Runs that suit it, at most one for each kind of step that they begin with: {@link proposeForKinds}. */
  runs: readonly (readonly StepEntry[])[];
}

export interface Taken {
  doc: PieceDoc;
  /** Labels of steps that mean nothing on another picture. */
  leftOut: string[];
}

/**
 * A piece with the run, the material, the levels and the hand-off of another. Steps keep their settings; what depends on the
 * picture is found again: colours that are dropped and kept, scribbles, touches. Sources are those of the same role. What
 * was drawn by hand, or reads a source or a step that is not here, is left out.
 */
export function takeStart(start: PieceDoc, piece: PieceDoc, found: FoundInPicture, makeId: () => string): Taken {
  const ids = idsHere(start, piece, makeId);
  const leftOut: string[] = [];
  const kept = new Set<string>();
  const run = start.run.flatMap((step): StepEntry[] => {
    const own = isReadHere(step, ids, kept) && !isHandStep(step) ? onPicture(step, found) : null;
    if (own) {
      kept.add(step.id);
      return [renamed(own, ids)];
    }
    leftOut.push(stepKind(step.kind).label);
    return [];
  });
  const { material, drawn, handOff } = start;
  const { replaced, painted } = piece.levels; // these are pictures of it
  return { doc: { ...piece, run, material, drawn, handOff, levels: { ...start.levels, replaced, painted } }, leftOut };
}

/** What ids of the start are called here: sources by their role, steps newly. */
function idsHere(start: PieceDoc, piece: PieceDoc, makeId: () => string): ReadonlyMap<string, string> {
  const ids = new Map(start.run.map(({ id }) => [id, makeId()]));
  const [first, ...others] = start.sources;
  if (first && piece.sources[0]) ids.set(first.id, piece.sources[0].id);
  const free = piece.sources.slice(1);
  for (const { id, role } of others) {
    const at = free.findIndex((s: SourceRef) => role && s.role === role);
    if (at >= 0) ids.set(id, free.splice(at, 1)[0].id);
  }
  return ids;
}

/** Whether the sources and the earlier steps that it reads are here. @param kept - Ids of the steps before it that are taken. */
function isReadHere(step: StepEntry, ids: ReadonlyMap<string, string>, kept: ReadonlySet<string>): boolean {
  const kind = stepKind(step.kind);
  const sources = kind.reads?.(step.params) ?? [];
  const steps = kind.stepsOf?.(step.params) ?? [];
  return sources.every(({ id }) => id === '' || ids.has(id)) && steps.every((id) => id === '' || kept.has(id));
}

/** The step with what depends on the picture found in this one; null where nothing was found. */
function onPicture(step: StepEntry, { facts, runs }: FoundInPicture): StepEntry | null {
  const foundFor = <K extends StepKindName>(kind: K): StepParams[K] | undefined =>
    runs.find(([s]) => s?.kind === kind)?.[0].params as StepParams[K] | undefined;
  switch (step.kind) {
    case 'from-strokes': {
      const strokes = foundFor('from-strokes')?.strokes;
      return strokes ? { ...step, params: { ...step.params, strokes } } : null;
    }
    case 'from-touch': {
      const touch = foundFor('from-touch');
      return touch ? { ...step, params: { ...step.params, at: touch.at, take: touch.take } } : null;
    }
    case 'from-colour': {
      const colours = step.params.keep.length > 0 ? foundFor('from-colour') : facts && dropBackdrop(facts);
      if (!colours) return null;
      return { ...step, params: { ...step.params, keep: [], ...coloursOf(colours), from: [] } };
    }
    case 'clear-holes':
      return { ...step, params: { ...step.params, taken: [] } };
    case 'drop-strays':
    case 'close-pinholes':
      return { ...step, params: { ...step.params, left: [] } };
    default:
      return step;
  }
}

const coloursOf = ({ drop, keep }: Partial<Pick<StepParams['from-colour'], 'drop' | 'keep'>>) => ({
  ...(drop && { drop }),
  ...(keep && { keep }),
});

function renamed(step: StepEntry, ids: ReadonlyMap<string, string>): StepEntry {
  return JSON.parse(JSON.stringify(step), (_key, value: unknown) =>
    typeof value === 'string' ? (ids.get(value) ?? value) : value,
  ) as StepEntry;
}
