import { fillRegions, regionsWith, type TexelAt } from '../mask/connected.ts';
import { growMask, HALF } from '../mask/edge-distance.ts';
import { findRegions, type Connectivity } from '../mask/regions.ts';
import { applyTable } from '../raster/apply-table.ts';
import { makeMask, type Mask, type Picture } from '../raster/raster.ts';
import type { Rgb } from '../colour/srgb.ts';
import { maskByColour } from './from-colour.ts';
import { REVERSED } from './invert.ts';
import type { StepEnv, StepKind } from './step.ts';

export interface FromTouchParams {
  /** Touched texels of the colour picture. */
  at: TexelAt[];
  /** OKLab distance to a touched colour, and the ramp around it. */
  tolerance: number;
  softness: number;
  /** Breaks of up to this many texels in what bounds the region do not let it leak out. */
  gaps: number;
  take: TouchTake;
}

export const TOUCH_TAKES = ['keep it', 'drop it'] as const;
export type TouchTake = (typeof TOUCH_TAKES)[number];

/** The connected region of like colour around touched points. */
export const fromTouch: StepKind<FromTouchParams> = {
  stretch: 'mask',
  label: 'From touch',
  hint: 'Takes the region of like colour around the points that you touch, as far as it hangs together.',
  defaults: { at: [], tolerance: 0.1, softness: 0.04, gaps: 0, take: 'drop it' },
  ranges: {
    tolerance: { min: 0, max: 0.6, step: 0.005, digits: 3 },
    softness: { min: 0, max: 0.5, step: 0.005, digits: 3 },
    gaps: { min: 0, max: 64, step: 1, digits: 0, unit: 'texels' },
  },
  pullsMask: true,
  sourcesOf: () => [],
  apply({ colour, mask }, params, env) {
    if (params.at.length === 0) return { colour, mask };
    const { tolerance, softness } = params;
    const alike = likeTouched(colour, params.at, tolerance, softness, env);
    const region = connectedTo(alike, params.at, params.gaps * env.scale, env);
    return { colour, mask: params.take === 'keep it' ? region : applyTable(region, REVERSED, env) };
  },
};

/** What is of like colour as touched texels are, wherever it lies. */
export function likeTouched(
  colour: Picture,
  at: readonly TexelAt[],
  tolerance: number,
  softness: number,
  env: Pick<StepEnv, 'allocate' | 'bands' | 'scale'>,
): Mask {
  const keep = at.map((texel) => colourAround(colour, texel, env.scale));
  return maskByColour(colour, { drop: [], keep, metric: 'OKLab', tolerance, softness }, env);
}

/** Middle of three by three texels, channel by channel: one alone may be grain, or already the other side of an edge. */
function colourAround({ width, height, data }: Picture, [x, y]: TexelAt, scale: number): Rgb {
  const cx = Math.min(width - 1, Math.floor(x * scale));
  const cy = Math.min(height - 1, Math.floor(y * scale));
  const around: number[] = [];
  for (let v = Math.max(0, cy - 1); v <= Math.min(height - 1, cy + 1); v++) {
    for (let u = Math.max(0, cx - 1); u <= Math.min(width - 1, cx + 1); u++) around.push(4 * (v * width + u));
  }
  return [0, 1, 2].map((c) => {
    const values = around.map((i) => data[i + c]).sort((a, b) => a - b);
    return values[values.length >> 1];
  }) as Rgb;
}

type TouchEnv = Pick<StepEnv, 'allocate' | 'bands' | 'scale'>;

/** With gaps: what is left after shrinking by half a gap hangs together or not, and is grown back within the region. */
export function connectedTo(
  alike: Mask,
  at: readonly TexelAt[],
  gaps: number,
  env: TouchEnv,
  connectivity: Connectivity = 8,
): Mask {
  if (gaps < 1) return onlyWith(alike, at, env, connectivity);
  const shrunk = applyTable(growMask(applyTable(alike, REVERSED, env), gaps / 2, env), REVERSED, env);
  const inside = at.map((texel) => intoMask(shrunk, texel, gaps, env.scale));
  const grown = growMask(onlyWith(shrunk, inside, env, connectivity), gaps / 2 + 1, env);
  const out = env.allocate(alike.data.length);
  for (let i = 0; i < out.length; i++) out[i] = Math.min(alike.data[i], grown.data[i]);
  return makeMask(alike.width, alike.height, out);
}

function onlyWith(mask: Mask, at: readonly TexelAt[], env: TouchEnv, connectivity: Connectivity): Mask {
  const { data, width, height } = mask;
  const regions = findRegions(data, width, height, { low: HALF, high: 255, connectivity });
  const meant = regionsWith(regions, at, env.scale);
  return fillRegions(mask, regions, { goes: (r) => !meant.has(r), value: 0 }, env);
}

/** The touched texel, or the nearest one still kept within a gap of it. */
function intoMask({ width, height, data }: Mask, [x, y]: TexelAt, reach: number, scale: number): TexelAt {
  const cx = Math.floor(x * scale);
  const cy = Math.floor(y * scale);
  let best: TexelAt = [x, y];
  let least = Infinity;
  const r = Math.ceil(reach);
  for (let v = Math.max(0, cy - r); v <= Math.min(height - 1, cy + r); v++) {
    for (let u = Math.max(0, cx - r); u <= Math.min(width - 1, cx + r); u++) {
      const far = (u - cx) * (u - cx) + (v - cy) * (v - cy);
      if (far < least && data[v * width + u] >= HALF) {
        least = far;
        best = [(u + 0.5) / scale, (v + 0.5) / scale];
      }
    }
  }
  return best;
}
