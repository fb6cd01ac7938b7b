import { SieveError, toPlainError, type PlainError } from '../errors.ts';
import { allocateHeap, makeMask, type Allocate, type Mask, type Picture } from '../raster/raster.ts';
import type { SourcePlace, StepEntry } from '../piece/piece-doc.ts';
import { stepKind } from '../steps/registry.ts';
import { strokesOf } from '../strokes/draw-stroke.ts';
import { StrokePainter } from '../strokes/painter.ts';
import type { Stroke } from '../strokes/stroke.ts';
import type { Applied, Found, RunState, StepEnv } from '../steps/step.ts';

/** Keeps the state after a step by the key of all that went into it. */
export interface RunCache {
  get(key: string): Applied | undefined;
  set(key: string, state: Applied): void;
  /** Drops every state whose mask lies in this memory: it is about to hold another one. */
  forget(data: Uint8Array): void;
}

export interface RunSource {
  id: string;
  sha256: string;
  picture: Picture;
  place?: SourcePlace | undefined;
}

export interface RunHost {
  /** The first is the colour picture. */
  sources: readonly RunSource[];
  cache?: RunCache;
  allocate?: Allocate;
  /** See {@link StepEnv.scale}. */
  scale?: number;
  /** What was done by hand, by id. */
  strokes?: ReadonlyMap<string, Stroke>;
  /** The picture of a brush's tip, by the SHA-256 of its file. */
  tip?(sha256: string): Picture | undefined;
  /** What was made of the strokes of a step so far; without it they are drawn anew each time. */
  painterOf?(stepId: string, state: RunState): StrokePainter;
  /** Called between bands of rows with the step and the share done of it; throws to cancel. */
  checkpoint?(stepIndex: number, share: number): void;
}

/** The state after one step; `error` where the step could not be done and was passed over. */
export interface StepResult extends RunState {
  stepId: string;
  key: string;
  error?: PlainError;
  found?: Found;
  says?: string;
}

export interface RunResult extends RunState {
  steps: StepResult[];
  /** Changes whenever the result may have changed. */
  key: string;
}

const NO_STROKES: ReadonlyMap<string, Stroke> = new Map();
const BAND_TEXELS = 1 << 20;

/**
 * Runs the steps in order. A step that is off, or fails with a {@link SieveError}, hands its input on. Before any
 * step, all texels are kept. The same sources and steps give the same bytes on every host.
 *
 * @throws {@link SieveError} `missing-source` without a colour picture, and what `checkpoint` throws.
 */
export function evaluateRun(run: readonly StepEntry[], host: RunHost): RunResult {
  const first = host.sources[0];
  if (!first) throw new SieveError('missing-source', 'The piece has no picture yet.', 'Drop a picture on it.');
  const allocate = host.allocate ?? allocateHeap;
  let state = startState(first, host.cache, allocate);
  let key = startKey(first);
  const steps: StepResult[] = [];
  const evaluate = (step: StepEntry): StepResult => {
    if (!step.on) return { ...state, stepId: step.id, key };
    const stepKey = `${key}>${step.kind}${JSON.stringify(step.params)}${sourceKeys(step, host.sources)}${stepKeys(step, steps)}`;
    let error: PlainError | undefined;
    let more: Pick<Applied, 'found' | 'says'> = {};
    try {
      const applied = host.cache?.get(stepKey) ?? applyStep(step, state, key, steps, host, allocate);
      host.cache?.set(stepKey, applied);
      key = stepKey;
      const { colour, mask, ...others } = applied;
      more = others;
      state = { colour, mask };
    } catch (cause) {
      if (!(cause instanceof SieveError) || cause.code === 'cancelled') throw cause;
      error = toPlainError(cause);
    }
    return { ...state, stepId: step.id, key, ...(error ? { error } : {}), ...more };
  };
  for (const step of run) steps.push(evaluate(step));
  return { ...state, steps, key };
}

function startKey({ sha256, picture }: RunSource): string {
  return `${sha256}@${picture.width}x${picture.height}`;
}

function startState(first: RunSource, cache: RunCache | undefined, allocate: Allocate): RunState {
  const key = startKey(first);
  const known = cache?.get(key);
  if (known) return known;
  const { width, height } = first.picture;
  const mask: Mask = makeMask(width, height, allocate(width * height).fill(255));
  const state = { colour: first.picture, mask };
  cache?.set(key, state);
  return state;
}

function sourceKeys(step: StepEntry, sources: readonly RunSource[]): string {
  return stepKind(step.kind)
    .sourcesOf(step.params)
    .map((id) => {
      const found = sources.find((s) => s.id === id);
      return found ? `${found.sha256}${found.place ? `@${found.place.x},${found.place.y}` : ''}` : 'none';
    })
    .join();
}

function stepKeys(step: StepEntry, before: readonly StepResult[]): string {
  const ids = stepKind(step.kind).stepsOf?.(step.params) ?? [];
  return ids.map((id) => `&${before.find((s) => s.stepId === id)?.key ?? 'none'}`).join('');
}

function applyStep(
  step: StepEntry,
  state: RunState,
  inputKey: string,
  before: readonly StepResult[],
  host: RunHost,
  allocate: Allocate,
): Applied {
  const tip = (sha256: string) => {
    const found = host.tip?.(sha256);
    if (found) return found;
    throw new SieveError('missing-source', 'The picture of a brush tip is not here.', 'Reload the page.');
  };
  const env: StepEnv = {
    allocate,
    scale: host.scale ?? 1,
    source(id) {
      const found = host.sources.find((s) => s.id === id);
      if (found) return found.picture;
      throw new SieveError(
        'missing-source',
        'The picture this step reads is no longer in the piece.',
        'Choose another source in this step.',
      );
    },
    placeOf: (id) => host.sources.find((s) => s.id === id)?.place ?? null,
    maskAfter(stepId) {
      const found = before.find((s) => s.stepId === stepId);
      if (found) return found.mask;
      throw new SieveError(
        'missing-step',
        'The step that this one is combined with does not stand before it.',
        'Choose another step here, or move this one behind it.',
      );
    },
    paintStrokes(ids) {
      const { width, height } = state.mask;
      const painter = host.painterOf?.(step.id, state) ?? new StrokePainter(width, height);
      return painter.paint(strokesOf(ids, host.strokes ?? NO_STROKES), state, inputKey, { ...env, tip });
    },
    checkpoint: (share) => host.checkpoint?.(before.length, share),
    bands(height, work) {
      const rows = Math.max(1, Math.floor(BAND_TEXELS / state.colour.width)) & ~1 || 1;
      for (let y = 0; y < height; y += rows) {
        host.checkpoint?.(before.length, y / height);
        work(y, Math.min(height, y + rows));
      }
    },
  };
  return stepKind(step.kind).apply(state, step.params, env);
}

/** Keeps the most recently used states within a budget of bytes; a raster shared by states counts once each. */
export function makeRunCache(budgetBytes: number): RunCache {
  const held = new Map<string, Applied>();
  const bytesOf = (s: RunState) => s.mask.data.length + s.colour.data.length / 4; // colour is mostly the source's own
  let total = 0;
  return {
    get(key) {
      const state = held.get(key);
      if (state) {
        held.delete(key);
        held.set(key, state);
      }
      return state;
    },
    forget(data) {
      for (const [key, state] of held) {
        if (state.mask.data !== data) continue;
        held.delete(key);
        total -= bytesOf(state);
      }
    },
    set(key, state) {
      const before = held.get(key);
      if (before) total -= bytesOf(before);
      held.delete(key);
      held.set(key, state);
      total += bytesOf(state);
      for (const [oldest, old] of held) {
        if (total <= budgetBytes) break;
        held.delete(oldest);
        total -= bytesOf(old);
      }
    },
  };
}
