import { SieveError } from '../errors.ts';
import { digest } from '../math/digest.ts';
import { PIECE_DEFAULTS, type StepEntry } from '../piece/piece-doc.ts';
import type { MapName } from '../raster/maps.ts';
import { allocateHeap, makeMask, type Allocate } from '../raster/raster.ts';
import { NO_MAPS, withChanges, type RunState } from '../raster/run-state.ts';
import { stepKind } from '../steps/registry.ts';
import type { Applied } from '../steps/step.ts';
import type { RunCache } from './cache.ts';
import type { RunHost, RunResult, RunSource, StepResult } from './run.ts';
import { stepEnv } from './step-env.ts';

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
  for (const step of run) {
    const result: StepResult = { ...snapshot(state, host), stepId: step.id, key, changes: [] };
    if (host.draftsFit && stepKind(step.kind).stretch === 'fit') {
      state = { ...state, maps: NO_MAPS };
      key = digest(`${key}, draft`);
    }
    if (step.on) {
      try {
        assertKnown(step);
        const stepKey = keyAfter(step, key, steps, host);
        const applied = applyOnce(step, stepKey, host, () =>
          stepKind(step.kind).apply(
            state,
            step.params,
            stepEnv({ step, state, inputKey: key, before: steps }, host, allocate),
          ),
        );
        state = withChanges(state, applied);
        key = stepKey;
        const { found, notice, doubt } = applied;
        Object.assign(
          result,
          snapshot(state, host),
          { key, changes: changesOf(applied) },
          found && { found },
          notice && { notice },
          doubt && { doubt },
        );
      } catch (cause) {
        if (!(cause instanceof SieveError) || cause.code === 'cancelled') throw cause;
        const { code, message, remedy } = cause;
        result.error = { code, message, remedy };
      }
    }
    steps.push(result);
  }
  return { ...state, steps, key };
}

/** @throws {@link SieveError} `unsupported` for a step of a newer version. */
function assertKnown({ kind, version = 1 }: StepEntry): void {
  const newest = stepKind(kind).version ?? 1;
  if (version <= newest) return;
  throw new SieveError(
    'unsupported',
    `This step is of version ${version}; version ${newest} is the newest known here.`,
    'Open the piece with the program that it was made with, or a newer one.',
  );
}

/** From the cache where it is there; what lies in memory that is written again is not kept there. */
function applyOnce(step: StepEntry, key: string, { cache }: RunHost, apply: () => Applied): Applied {
  const known = cache?.get(key);
  if (known) return known;
  const started = performance.now();
  const applied = apply();
  if (!applied.transient) cache?.set(key, applied, performance.now() - started);
  return applied;
}

// core is compiled without the types of a host; both of its hosts have it
declare const performance: { now(): number };

/** What is kept of a step's result: all maps of every step would be gigabytes where a fit lays them all. */
function snapshot(state: RunState, { keepStates }: RunHost): Pick<StepResult, 'mask' | 'state'> {
  return keepStates ? { mask: state.mask, state } : { mask: state.mask };
}

function changesOf({ colour, mask, maps }: Applied): MapName[] {
  return [...(colour ? (['colour'] as const) : []), ...(mask ? (['mask'] as const) : []), ...(maps?.keys() ?? [])];
}

function startKey({ sha256, picture }: RunSource): string {
  return digest(`${sha256}@${picture.width}x${picture.height}`);
}

function startState(first: RunSource, cache: RunCache | undefined, allocate: Allocate): RunState {
  const { width, height } = first.picture;
  const key = `${width}x${height}`;
  const mask = cache?.get(key)?.mask ?? makeMask(width, height, allocate(width * height).fill(255));
  cache?.set(key, { mask }, 0);
  return { colour: first.picture, mask, maps: first.maps ?? NO_MAPS };
}

/** Digest of the state before, what the step is set to, and what else it reads. */
function keyAfter(
  { kind, params, version }: StepEntry,
  before: string,
  steps: readonly StepResult[],
  host: RunHost,
): string {
  const definition = stepKind(kind);
  const card = definition.inMillimetres ? [host.cardWidth ?? PIECE_DEFAULTS.cardWidth] : [];
  const sources = (definition.reads?.(params) ?? []).map(({ id }) => {
    const { sha256, place } = host.sources.find((s) => s.id === id) ?? {};
    return [sha256, place];
  });
  const others = (definition.stepsOf?.(params) ?? []).map((id) => steps.find((s) => s.stepId === id)?.key);
  const newer = version === undefined ? [] : [`version ${version}`];
  return digest(JSON.stringify([before, kind, params, sources, others, ...card, ...newer]));
}
