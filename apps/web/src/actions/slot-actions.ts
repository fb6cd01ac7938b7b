import {
  endOfStretch,
  makeStep,
  mapKind,
  stepKind,
  type MapName,
  type StepEntry,
  type StepKindName,
  type ValueMapParams,
} from '@lithe-sieve/core';
import { makeId } from '../document/ids';
import { stepLabel } from '../document/step-labels';
import { usePiece } from '../stores/open-piece/open-piece';

/** A place of the material, as the Material tray lists it. */
export interface SlotRow {
  map: MapName;
  label: string;
  /** The step that fills it by a picture, another map, or a value. */
  kind: StepKindName;
  /** What such a step may take, by what a person reads. */
  takes: Record<string, object>;
  /** Params that read another picture as it is. */
  fromSource: object;
  /** What it is without a step. */
  otherwise: string;
}

const AS_IT_IS = { inverted: false, offset: 0, gain: 1, low: 0, high: 1 };
const VALUES = {
  'a value': { from: 'one value' },
  'another map': { ...AS_IT_IS, from: 'another map' },
  'a picture': { ...AS_IT_IS, from: 'channel' },
};
const COLOURS = { 'a picture': { from: 'picture' }, 'one colour': { from: 'one colour' } };
const FITTED = { fit: 'scale' };

const value = (map: MapName & StepKindName, label: string, otherwise: string): SlotRow => ({
  map,
  label,
  kind: map,
  takes: VALUES,
  fromSource: { ...AS_IT_IS, ...FITTED, from: 'channel', channel: 'luminance' },
  otherwise,
});
const colour = (map: MapName, label: string, kind: StepKindName, otherwise: string): SlotRow => ({
  map,
  label,
  kind,
  takes: COLOURS,
  fromSource: { ...FITTED, from: 'picture' },
  otherwise,
});

/** In the order of the tray. */
export const SLOT_ROWS: readonly SlotRow[] = [
  colour('colour', 'Colour', 'other-colour', 'the picture'),
  {
    map: 'mask',
    label: 'Opacity',
    kind: 'from-channel',
    takes: { 'a picture': {} },
    fromSource: { ...FITTED, channel: 'luminance' },
    otherwise: 'all is kept',
  },
  {
    map: 'normal',
    label: 'Normal',
    kind: 'normal-from-picture',
    takes: { 'a picture': {} },
    fromSource: { ...FITTED, green: 'OpenGL' },
    otherwise: 'flat',
  },
  value('roughness', 'Roughness', '0.75'),
  value('metalness', 'Metalness', '0'),
  value('specular', 'Specular', '0.5, 4 % head on'),
  value('occlusion', 'Occlusion', 'open'),
  value('translucency', 'Translucency', 'none'),
  colour('throughColour', 'Its colour', 'through-colour', 'the picture’s'),
  colour('emission', 'Emission', 'emission', 'none'),
];

/** After all others of its stretch, but for what spreads the edge's texels outwards; a colour, before all that works on colours. */
function placeFor(run: readonly StepEntry[], kind: StepKindName): number {
  if (kind === 'other-colour') return endOfStretch(run, 'invert');
  const end = endOfStretch(run, kind);
  return stepKind(kind).stretch === 'maps' && run[end - 1]?.kind === 'bleed-maps' ? end - 1 : end;
}

/** What fills the slots of the material: steps of the run, changed from the Material tray. */
export function useSlotActions() {
  const piece = usePiece();

  /** The last step that is on and makes what the slot shows; else the last one of its own kind, which is off. */
  function stepOf({ map, kind }: SlotRow): StepEntry | null {
    const makes = (step: StepEntry) => {
      const { makes: made, pullsMask } = stepKind(step.kind);
      return step.kind === kind || (map === 'mask' ? pullsMask : made === map);
    };
    return piece.run.findLast((s) => s.on && makes(s)) ?? piece.run.findLast((s) => s.kind === kind) ?? null;
  }

  /** Fills it by its own kind of step, with these values: the one that is there, or a new one. */
  function fill(row: SlotRow, params: object, what: string): void {
    const there = stepOf(row);
    const own = there?.kind === row.kind ? there : null;
    const made = own ?? makeStep(makeId(), row.kind);
    const step = { ...made, on: true, params: { ...made.params, ...params } } as StepEntry;
    piece.edit(`${row.label}: ${what}`, (doc) => {
      const others = doc.run.filter((s) => s.id !== step.id);
      const at = own ? doc.run.findIndex((s) => s.id === own.id) : placeFor(others, step.kind);
      return { ...doc, run: others.toSpliced(at, 0, step) };
    });
  }

  /** Switches off all that fills it. */
  function empty(row: SlotRow): void {
    const all = piece.run.filter((s) => s.on && (s.kind === row.kind || stepKind(s.kind).makes === row.map));
    piece.edit(`${row.label}: nothing`, (doc) => ({
      ...doc,
      run: doc.run.map((s) => (all.some(({ id }) => id === s.id) ? { ...s, on: false } : s)),
    }));
  }

  /** Whether the mask is turned over at the end of its stretch, so that black is kept. */
  function isTransparency(): boolean {
    return lastOfMask()?.kind === 'invert';
  }

  function lastOfMask(): StepEntry | undefined {
    return piece.run.findLast((s) => s.on && stepKind(s.kind).stretch === 'mask');
  }

  function setPolarity(transparency: boolean): void {
    const last = lastOfMask();
    if (transparency === isTransparency()) return;
    piece.edit(transparency ? 'Opacity: read as transparency' : 'Opacity: read as opacity', (doc) => {
      if (!transparency) return { ...doc, run: doc.run.filter((s) => s.id !== last?.id) };
      return { ...doc, run: doc.run.toSpliced(endOfStretch(doc.run, 'invert'), 0, makeStep(makeId(), 'invert')) };
    });
  }

  /** In words: what fills the slot now. */
  function saidOf(row: SlotRow): string {
    const step = stepOf(row);
    if (!step?.on) return row.otherwise;
    if (step.kind !== row.kind) return stepLabel(step);
    const { from, value: typed, map, channel, sourceId } = step.params as Partial<ValueMapParams>;
    if (from === 'one value') return String(typed);
    if (from === 'another map' && map) return mapKind(map).label;
    const source = piece.sources.find((s) => s.id === sourceId);
    if (source) return source.fileName;
    return from === 'channel' || row.map === 'mask' ? `the picture’s ${channel}` : (from ?? stepLabel(step));
  }

  return { stepOf, fill, empty, isTransparency, setPolarity, saidOf };
}
