import { HALF } from '../mask/edge-distance.ts';
import { findRegions, paintRegions, placeOf, regionAt, type Regions } from '../mask/regions.ts';
import { makeMask, type Mask } from '../raster/raster.ts';
import type { Applied, Found, RunState, StepEnv, StepKind } from './step.ts';

/** A texel of the full size. */
export type TexelAt = [x: number, y: number];

export interface SmallRegionsParams {
  /** Regions of fewer texels than this are found. */
  below: number;
  /** Whether what is found is also changed; at first it is only shown. */
  applied: boolean;
  /** A texel of each region that is left as it is. */
  left: TexelAt[];
}

/** How many places are shown, the largest first; the count tells of the rest. */
const SHOWN = 400;

export const dropStrays: StepKind<SmallRegionsParams> = {
  stretch: 'mask',
  label: 'Drop strays',
  hint: 'Finds kept islands smaller than a number of texels, shows them, and drops them when told.',
  defaults: { below: 64, applied: false, left: [] },
  ranges: { below: { min: 1, max: 100_000, digits: 0, unit: 'texels', logarithmic: true } },
  pullsMask: false,
  sourcesOf: () => [],
  apply: (state, params, env) => treat(state, params, env, true),
};

export const closePinholes: StepKind<SmallRegionsParams> = {
  ...dropStrays,
  label: 'Close pinholes',
  hint: 'Finds dropped holes smaller than a number of texels, shows them, and closes them when told.',
  apply: (state, params, env) => treat(state, params, env, false),
};

function treat({ colour, mask }: RunState, params: SmallRegionsParams, env: StepEnv, kept: boolean): Applied {
  const { width, height, data } = mask;
  const among = kept
    ? ({ low: HALF, high: 255, connectivity: 8 } as const)
    : ({ low: 0, high: HALF - 1, connectivity: 4 } as const);
  env.bands(2, () => undefined); // the host may cancel before the long part
  const regions = findRegions(data, width, height, among);
  const below = params.below * env.scale * env.scale;
  const left = new Set(
    params.left.map(([x, y]) => regionAt(regions, Math.floor(x * env.scale), Math.floor(y * env.scale))),
  );
  const small = (r: number) => regions.areas[r] < below && !left.has(r);
  const found = tell(regions, (r) => regions.areas[r] < below);
  if (!params.applied || found.count === 0) return { colour, mask, found };
  return { colour, mask: without(mask, regions, small, kept, env), found };
}

/** What was found, the largest first. */
export function tell(regions: Regions, wanted: (region: number) => boolean): Found {
  const chosen = Array.from({ length: regions.count }, (_, r) => r).filter(wanted);
  const texels = chosen.reduce((sum, r) => sum + regions.areas[r], 0);
  chosen.sort((a, b) => regions.areas[b] - regions.areas[a] || regions.firsts[a] - regions.firsts[b]);
  return { count: chosen.length, texels, places: chosen.slice(0, SHOWN).map((r) => placeOf(regions, r)) };
}

const STAYS = 1;
const GOES = 2;
const PARTLY = 3;

/**
 * Fills the small regions, and with them the soft rim that hangs on them and not on another region: rims are given to
 * the regions that stay first, outwards from each, then the rest to those that go.
 */
function without(mask: Mask, regions: Regions, small: (r: number) => boolean, kept: boolean, env: StepEnv): Mask {
  const { width, height, data } = mask;
  const owner = new Uint8Array(data.length);
  for (let i = 0; i < data.length; i++) if (data[i] > 0 && data[i] < 255) owner[i] = PARTLY;
  paintRegions(regions, (r) => !small(r), owner, STAYS);
  paintRegions(regions, small, owner, GOES);
  for (const claim of [STAYS, GOES]) {
    for (let round = 0; round < 2; round++) {
      env.bands(height, (y0, y1) => spread(owner, width, claim, y0 * width, y1 * width));
      env.bands(height, (y0, y1) => spreadBack(owner, width, claim, (height - y1) * width, (height - y0) * width));
    }
  }
  const out = env.allocate(data.length);
  const full = kept ? 0 : 255;
  for (let i = 0; i < out.length; i++) out[i] = owner[i] === GOES ? full : data[i];
  return makeMask(width, height, out);
}

function spread(owner: Uint8Array, width: number, claim: number, from: number, to: number): void {
  for (let i = Math.max(1, from); i < to; i++) {
    if (owner[i] === PARTLY && (owner[i - 1] === claim || (i > width && touches(owner, i - width, claim))))
      owner[i] = claim;
  }
}

function spreadBack(owner: Uint8Array, width: number, claim: number, from: number, to: number): void {
  const end = owner.length - 1;
  for (let i = Math.min(to, end) - 1; i >= from; i--) {
    if (owner[i] === PARTLY && (owner[i + 1] === claim || (i + width < end && touches(owner, i + width, claim))))
      owner[i] = claim;
  }
}

/** Whether one of three texels in a row is claimed. */
function touches(owner: Uint8Array, middle: number, claim: number): boolean {
  return owner[middle] === claim || owner[middle - 1] === claim || owner[middle + 1] === claim;
}
