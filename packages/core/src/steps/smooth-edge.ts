import { blurValues } from '../mask/blur.ts';
import { makeMask, type Mask } from '../raster/raster.ts';
import type { StepEnv, StepKind } from './step.ts';

export interface SmoothEdgeParams {
  /** Bends of the edge smaller than about this many texels are evened out. */
  radius: number;
}

/**
 * Blurs the mask and draws a new edge, one texel wide, along the level of the blur that leaves as much alpha in all as
 * there was: corners are rounded and notches filled, the area stays. The level is found by halving, the width of the
 * edge from the slope of the blur across it.
 */
export const smoothEdge: StepKind<SmoothEdgeParams> = {
  stretch: 'mask',
  purpose: 'edge',
  label: 'Smooth edge',
  hint: 'Evens out stair-steps and jags of the edge; the area stays what it was.',
  defaults: { radius: 2 },
  ranges: { radius: { min: 0, max: 64, step: 0.25, unit: 'texels' } },
  pullsMask: false,
  apply({ mask }, { radius }, env) {
    const sigma = radius * env.scale;
    return sigma > 0 ? { mask: smooth(mask, sigma, env) } : {};
  },
};

const BINS = 4096;

function smooth(mask: Mask, sigma: number, env: StepEnv): Mask {
  const { width, height, data } = mask;
  const soft = blurValues(mask, sigma, env);
  const counts = new Float64Array(BINS + 1);
  let alpha = 0;
  env.bands(height, (y0, y1) => {
    count(soft, counts, y0 * width, y1 * width);
    alpha += sum(data, y0 * width, y1 * width);
  });
  const level = levelOf(counts, alpha / 255);
  const out = env.allocate(data.length);
  env.bands(height, (y0, y1) => drawEdge(soft, width, height, level, out, y0, y1));
  return makeMask(width, height, out);
}

function count(soft: Float32Array, counts: Float64Array, from: number, to: number): void {
  for (let i = from; i < to; i++) counts[(soft[i] * (BINS / 255)) | 0]++;
}

function sum(data: Uint8Array, from: number, to: number): number {
  let total = 0;
  for (let i = from; i < to; i++) total += data[i];
  return total;
}

/** The level, 0–255, above which `texels` lie. */
function levelOf(counts: Float64Array, texels: number): number {
  let above = 0;
  let bin = BINS;
  while (bin > 0 && above + counts[bin] < texels) above += counts[bin--];
  const part = counts[bin] > 0 ? (texels - above) / counts[bin] : 0;
  return Math.max(0.5, Math.min(254.5, ((bin + 1 - part) * 255) / BINS));
}

function drawEdge(
  soft: Float32Array,
  width: number,
  height: number,
  level: number,
  out: Uint8Array,
  y0: number,
  y1: number,
): void {
  for (let y = y0; y < y1; y++) {
    const up = y > 0 ? -width : 0;
    const down = y + 1 < height ? width : 0;
    for (let x = 0, i = y * width; x < width; x++, i++) {
      const over = soft[i] - level;
      if (over > 160 || over < -160) {
        out[i] = over > 0 ? 255 : 0; // farther than any slope reaches within a texel
        continue;
      }
      const gx = (soft[x + 1 < width ? i + 1 : i] - soft[x > 0 ? i - 1 : i]) / 2;
      const gy = (soft[i + down] - soft[i + up]) / 2;
      const slope = Math.sqrt(gx * gx + gy * gy);
      const v = slope > 0 ? 127.5 + (255 * over) / slope : over > 0 ? 255 : 0;
      out[i] = v <= 0 ? 0 : v >= 255 ? 255 : v + 0.5;
    }
  }
}
