import {
  extractChannel,
  NO_MAPS,
  STEP_KINDS,
  type RunState,
  type StepEnv,
  type StepKindName,
  type StepParams,
} from '@lithe-sieve/core/testing';
import { bigScan, SIDE } from './big-scan.ts';

/** The scan as a state of a run, and what steps may ask, for calling kernels and steps by themselves. */
const { bytes, picture } = await bigScan();
const env: StepEnv = {
  scale: 1,
  draft: false,
  version: 999,
  paintStrokes: () => mask,
  checkpoint: () => undefined,
  maskAfter: () => mask,
  placeOf: () => null,
  deepSource: () => null,
  texelMm: 0.12,
  allocate: (n) => new Uint8Array(n),
  source: () => picture,
  asData: (p) => p,
  bands(height, work) {
    for (let y = 0; y < height; y += 256) work(y, Math.min(height, y + 256));
  },
};
const mask = extractChannel(picture, 'alpha', env);
const start: RunState = { colour: picture, mask, maps: NO_MAPS };
/** A state after a step. */
function apply<K extends StepKindName>(kind: K, state: RunState, params: Partial<StepParams[K]> = {}): RunState {
  const step = STEP_KINDS[kind];
  const host = { ...env, source: () => state.colour };
  const changed = step.apply(state, { ...step.defaults, ...params }, host);
  return { ...state, ...changed, maps: new Map([...state.maps, ...(changed.maps ?? [])]) };
}

/** For sharp. */
const raw = { raw: { width: SIDE, height: SIDE, channels: 4 as const } };

export { apply, bytes, env, mask, picture, raw, start };
