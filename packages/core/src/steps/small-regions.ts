import { fillRegions, regionsOf, regionsWith, type TexelAt } from '../mask/connected.ts';
import { placeOf, type Regions } from '../mask/regions.ts';
import type { RunState } from '../raster/run-state.ts';
import type { Applied, Found, StepEnv, StepKind } from './step.ts';

export interface SmallRegionsParams {
  /** Regions of fewer texels than this are found. */
  below: number;
  /** Whether what is found is also changed; at first it is only shown. */
  applied: boolean;
  /** A texel of each region that is left as it is. */
  left: TexelAt[];
}

/** How many places are shown, the largest first; the count includes the rest. */
const SHOWN = 2000;

export const dropStrays: StepKind<SmallRegionsParams> = {
  stretch: 'mask',
  purpose: 'clean',
  label: 'Drop strays',
  hint: 'Finds kept islands below a size, shows them, and drops them when you say so.',
  defaults: { below: 64, applied: false, left: [] },
  ranges: { below: { min: 1, max: 100_000, digits: 0, unit: 'texels', logarithmic: true } },
  pullsMask: false,
  apply: (state, params, env) => treat(state, params, env, true),
};

export const closePinholes: StepKind<SmallRegionsParams> = {
  ...dropStrays,
  label: 'Close pinholes',
  hint: 'Finds dropped holes below a size, shows them, and closes them when you say so.',
  apply: (state, params, env) => treat(state, params, env, false),
};

function treat({ mask }: RunState, params: SmallRegionsParams, env: StepEnv, kept: boolean): Applied {
  const regions = regionsOf(mask, kept, env);
  const below = params.below * env.scale * env.scale;
  const left = regionsWith(regions, params.left, env.scale);
  const found = tell(regions, (r) => regions.areas[r] < below);
  if (!params.applied || found.count === 0) return { found };
  const goes = (r: number) => regions.areas[r] < below && !left.has(r);
  return { mask: fillRegions(mask, regions, { goes, value: kept ? 0 : 255 }, env), found };
}

/** What was found, the largest first. */
export function tell(regions: Regions, wanted: (region: number) => boolean): Found {
  const chosen = Array.from({ length: regions.count }, (_, r) => r).filter(wanted);
  const texels = chosen.reduce((sum, r) => sum + regions.areas[r], 0);
  chosen.sort((a, b) => regions.areas[b] - regions.areas[a] || regions.firsts[a] - regions.firsts[b]);
  return { count: chosen.length, texels, places: chosen.slice(0, SHOWN).map((r) => placeOf(regions, r)) };
}
