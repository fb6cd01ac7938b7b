import type { Mask } from '../raster/raster.ts';

/** Pixels over a mask that is seen straight on. */
export interface PixelGrid {
  width: number;
  height: number;
  /** Of the first pixel, texels from the top left of the mask. */
  left: number;
  top: number;
  /** Side of a pixel, texels. */
  pixel: number;
}

/** Gauss and Legendre's five points of 0 to 1, and their weights: Abramowitz and Stegun, table 25.4. */
const POINTS = [0.046910077, 0.2307653449, 0.5, 0.7692346551, 0.953089923];
const WEIGHTS = [0.1184634425, 0.2393143352, 0.2844444444, 0.2393143352, 0.1184634425];

/**
 * What an eye sees of a clipped mask: the share of each pixel where alpha, read between texels as renderers do (bilinear,
 * clamped at the sides), is the cutoff or more. Outside of the mask nothing is kept.
 *
 * @param cutoff - 0 to 255, as the texels.
 * @returns shares from 0 to 1, rows first; exact but for 1e-5.
 */
export function seenCoverage(mask: Mask, cutoff: number, { width, height, left, top, pixel }: PixelGrid): Float64Array {
  const out = new Float64Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [x0, x1] = [left + x * pixel, left + (x + 1) * pixel].map((v) => Math.min(mask.width, Math.max(0, v)));
      const [y0, y1] = [top + y * pixel, top + (y + 1) * pixel].map((v) => Math.min(mask.height, Math.max(0, v)));
      if (x1 > x0 && y1 > y0) out[y * width + x] = keptArea(mask, cutoff, x0, y0, x1, y1) / pixel ** 2;
    }
  return out;
}

/** Square texels kept of a rectangle within the mask. */
function keptArea({ width, height, data }: Mask, cutoff: number, x0: number, y0: number, x1: number, y1: number) {
  let area = 0;
  // cells lie between the middles of texels
  for (let j = Math.floor(y0 - 0.5); j + 0.5 < y1; j++) {
    const [above, below] = [j, j + 1].map((row) => Math.min(height - 1, Math.max(0, row)) * width);
    const [v0, v1] = [Math.max(y0, j + 0.5) - j - 0.5, Math.min(y1, j + 1.5) - j - 0.5];
    for (let i = Math.floor(x0 - 0.5); i + 0.5 < x1; i++) {
      const [before, after] = [i, i + 1].map((column) => Math.min(width - 1, Math.max(0, column)));
      const [u0, u1] = [Math.max(x0, i + 0.5) - i - 0.5, Math.min(x1, i + 1.5) - i - 0.5];
      const [a, b, c, d] = [data[above + before], data[above + after], data[below + before], data[below + after]];
      if (Math.min(a, b, c, d) >= cutoff) area += (u1 - u0) * (v1 - v0);
      else if (Math.max(a, b, c, d) >= cutoff)
        area += keptOfCell(a, b - a, c - a, a - b - c + d, cutoff, [u0, v0, u1, v1]);
    }
  }
  return area;
}

/** Of a part of a cell where alpha is a + b·u + c·v + d·u·v: along each column from one crossing of the cutoff on. */
function keptOfCell(
  a: number,
  b: number,
  c: number,
  d: number,
  cutoff: number,
  [u0, v0, u1, v1]: [number, number, number, number],
): number {
  const crossing = (v: number) => (cutoff - a - c * v) / (b + d * v);
  const breaks = [u0, crossing(v0), crossing(v1), -c / d, u1].filter((u) => u >= u0 && u <= u1).sort((p, q) => p - q);
  let area = 0;
  for (let k = 0; k + 1 < breaks.length; k++) {
    const [from, to] = [breaks[k], breaks[k + 1]];
    for (const [p, point] of POINTS.entries()) {
      const u = from + point * (to - from);
      const [level, slope] = [a + b * u, c + d * u];
      const at = Math.min(v1, Math.max(v0, (cutoff - level) / slope));
      const kept = slope === 0 ? (level >= cutoff ? v1 - v0 : 0) : slope > 0 ? v1 - at : at - v0;
      area += WEIGHTS[p] * kept * (to - from);
    }
  }
  return area;
}
