import { regionsWith, type TexelAt } from '../mask/connected.ts';
import { growMask, HALF } from '../mask/edge-distance.ts';
import { findRegions, paintRegions } from '../mask/regions.ts';
import { makeMask, type Mask } from '../raster/raster.ts';
import { backdropMask } from './from-backdrop.ts';
import { tell } from './small-regions.ts';
import type { StepEnv, StepKind } from './step.ts';

export interface ClearHolesParams {
  /** Distance from the backdrop up to which a kept texel counts as backdrop; see {@link FromBackdropParams}. */
  tolerance: number;
  shadow: number;
  /** Regions of fewer texels are not proposed. */
  least: number;
  /** A texel of each region that is cleared. */
  taken: TexelAt[];
}

/** Texels around a cleared region in which its soft rim is cleared too. */
const RIM = 3;
const SOFTNESS = 0.06;

export const clearHoles: StepKind<ClearHolesParams> = {
  stretch: 'mask',
  purpose: 'clean',
  label: 'Clear backdrop in holes',
  hint: 'Proposes kept places that look like the backdrop, one by one: holes that an earlier step missed.',
  defaults: { tolerance: 0.08, shadow: 0.3, least: 24, taken: [] },
  ranges: {
    tolerance: { min: 0.01, max: 0.6, step: 0.005, digits: 3 },
    shadow: { min: 0, max: 0.9 },
    least: { min: 1, max: 10_000, digits: 0, unit: 'texels', logarithmic: true },
  },
  pullsMask: false,
  apply({ colour, mask }, { tolerance, shadow, least, taken }, env) {
    const subject = backdropMask(colour, { tolerance, shadow, softness: SOFTNESS }, env);
    const { width, height } = mask;
    const doubtful = new Uint8Array(mask.data.length);
    for (let i = 0; i < doubtful.length; i++) doubtful[i] = mask.data[i] >= HALF && subject.data[i] < HALF ? 1 : 0;
    const regions = findRegions(doubtful, width, height, { low: 1, high: 1, connectivity: 4 }, () =>
      env.checkpoint(0.5),
    );
    const floor = least * env.scale * env.scale;
    const found = tell(regions, (r) => regions.areas[r] >= floor);
    const goes = regionsWith(regions, taken, env.scale);
    if (goes.size === 0) return { found };
    const cleared = makeMask(width, height, new Uint8Array(mask.data.length));
    paintRegions(regions, (r) => goes.has(r), cleared.data, 255);
    return { mask: without(mask, subject, growMask(cleared, RIM, env), env), found };
  },
};

function without(mask: Mask, subject: Mask, around: Mask, env: StepEnv): Mask {
  const out = env.allocate(mask.data.length);
  for (let i = 0; i < out.length; i++) {
    out[i] = around.data[i] > 0 && subject.data[i] < mask.data[i] ? subject.data[i] : mask.data[i];
  }
  return makeMask(mask.width, mask.height, out);
}
