import { blurValues, type Values } from '../mask/blur.ts';
import type { Work } from '../raster/work.ts';

/**
 * How much each place looks like the crest of a ridge of about a width: the strongest downward curvature of the blurred
 * values, σ² · max(0, −λ) with λ the lesser eigenvalue of the Hessian (T. Lindeberg, "Edge detection and ridge detection
 * with automatic scale selection", 1998).
 *
 * @param sigma - Half the width of a ridge, in texels, about; at least 0.5.
 * @param sign - 1: light ridges; −1: dark ones.
 * @returns In the unit of the values.
 */
export function ridges(values: Values, sigma: number, sign: 1 | -1, env: Pick<Work, 'bands'>): Float32Array {
  const { width, height } = values;
  const soft = blurValues(values, Math.max(0.5, sigma), env);
  const out = new Float32Array(width * height);
  const scale = sign * sigma * sigma;
  env.bands(height, (y0, y1) => {
    for (let y = y0; y < y1; y++) ridgeRow(soft, width, height, y, scale, out);
  });
  return out;
}

function ridgeRow(v: Float32Array, width: number, height: number, y: number, scale: number, out: Float32Array): void {
  const row = y * width;
  const up = y > 0 ? row - width : row;
  const down = y + 1 < height ? row + width : row;
  for (let x = 0; x < width; x++) {
    const l = x > 0 ? x - 1 : x;
    const r = x + 1 < width ? x + 1 : x;
    const own = v[row + x];
    const xx = v[row + l] + v[row + r] - 2 * own;
    const yy = v[up + x] + v[down + x] - 2 * own;
    const xy = (v[up + l] + v[down + r] - v[up + r] - v[down + l]) / 4;
    const mean = (xx + yy) / 2;
    const half = (xx - yy) / 2;
    const spread = Math.sqrt(half * half + xy * xy);
    const least = scale > 0 ? mean - spread : -(mean + spread); // of the values, or of their opposite
    out[row + x] = least < 0 ? (scale > 0 ? -least * scale : least * scale) : 0;
  }
}
