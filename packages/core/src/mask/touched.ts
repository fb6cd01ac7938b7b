import type { Rgb } from '../colour/srgb.ts';
import { applyTable, REVERSED } from '../raster/apply-table.ts';
import { makeMask, type Mask, type Picture } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';
import { maskByColour } from './by-colour.ts';
import { fillRegions, regionsWith, type TexelAt } from './connected.ts';
import { growMask, HALF } from './edge-distance.ts';
import { findRegions, type Connectivity } from './regions.ts';

/** What is of like colour as touched texels are, wherever it lies. */
export function likeTouched(
  colour: Picture,
  at: readonly TexelAt[],
  tolerance: number,
  softness: number,
  env: Pick<Work, 'allocate' | 'bands' | 'scale'>,
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

type TouchWork = Pick<Work, 'allocate' | 'bands' | 'scale'>;

/** With gaps: what is left after shrinking by half a gap is connected or not, and is grown back within the region. */
export function connectedTo(
  alike: Mask,
  at: readonly TexelAt[],
  gaps: number,
  env: TouchWork,
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

function onlyWith(mask: Mask, at: readonly TexelAt[], env: TouchWork, connectivity: Connectivity): Mask {
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
