import type { TexelAt } from '../mask/connected.ts';
import type { Picture } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';

const FAR = 1e9;
const ROUNDS = 2;
const DIAGONAL = 1.4142135623730951;

/**
 * Length of the shortest way from the scribbles to every texel, where a step between neighbours counts its length plus
 * `edges` times the difference of their colours (encoded RGB 0–1). By raster scans, down and up, twice: P. Toivanen,
 * "New geodesic distance transforms for gray-scale images" (1996).
 */
export function geodesicDistance(
  colour: Picture,
  scribbles: readonly { radius: number; at: readonly TexelAt[] }[],
  edges: number,
  env: Pick<Work, 'scale' | 'bands'>,
): Float32Array {
  const { width, height } = colour;
  const far = new Float32Array(width * height).fill(FAR);
  for (const { radius, at } of scribbles) draw(far, width, height, radius * env.scale, at, env.scale);
  const weight = edges / 255;
  for (let round = 0; round < ROUNDS; round++) {
    env.bands(height, (y0, y1) => scanDown(colour, far, weight, y0, y1));
    env.bands(height, (y0, y1) => scanUp(colour, far, weight, height - y1, height - y0));
  }
  return far;
}

/** Zero within the radius of a broken line. */
function draw(
  far: Float32Array,
  width: number,
  height: number,
  radius: number,
  at: readonly TexelAt[],
  scale: number,
): void {
  for (let k = 0; k < at.length; k++) {
    const [x0, y0] = at[Math.max(0, k - 1)].map((v) => (v + 0.5) * scale);
    const [x1, y1] = at[k].map((v) => (v + 0.5) * scale);
    const steps = Math.max(1, Math.ceil(Math.max(Math.abs(x1 - x0), Math.abs(y1 - y0)) / Math.max(1, radius / 2)));
    for (let s = 0; s <= steps; s++) {
      disc(far, width, height, x0 + ((x1 - x0) * s) / steps, y0 + ((y1 - y0) * s) / steps, Math.max(0.5, radius));
    }
  }
}

function disc(far: Float32Array, width: number, height: number, cx: number, cy: number, radius: number): void {
  for (let y = Math.max(0, Math.floor(cy - radius)); y <= Math.min(height - 1, cy + radius); y++) {
    for (let x = Math.max(0, Math.floor(cx - radius)); x <= Math.min(width - 1, cx + radius); x++) {
      const dx = x + 0.5 - cx;
      const dy = y + 0.5 - cy;
      if (dx * dx + dy * dy <= radius * radius || (Math.floor(cx) === x && Math.floor(cy) === y))
        far[y * width + x] = 0;
    }
  }
}

/** Colour difference of two texels, bytes. */
function apart(data: Uint8Array, i: number, j: number): number {
  const r = data[4 * i] - data[4 * j];
  const g = data[4 * i + 1] - data[4 * j + 1];
  const b = data[4 * i + 2] - data[4 * j + 2];
  return Math.sqrt(r * r + g * g + b * b);
}

function scanDown({ width, data }: Picture, far: Float32Array, weight: number, y0: number, y1: number): void {
  for (let y = y0; y < y1; y++) {
    for (let x = 0, i = y * width; x < width; x++, i++) {
      let best = far[i];
      if (x > 0 && far[i - 1] < best) best = Math.min(best, far[i - 1] + 1 + weight * apart(data, i, i - 1));
      if (y > 0) {
        const up = i - width;
        if (far[up] < best) best = Math.min(best, far[up] + 1 + weight * apart(data, i, up));
        if (x > 0 && far[up - 1] < best)
          best = Math.min(best, far[up - 1] + DIAGONAL + weight * apart(data, i, up - 1));
        if (x + 1 < width && far[up + 1] < best)
          best = Math.min(best, far[up + 1] + DIAGONAL + weight * apart(data, i, up + 1));
      }
      far[i] = best;
    }
  }
}

function scanUp({ width, height, data }: Picture, far: Float32Array, weight: number, y0: number, y1: number): void {
  for (let y = y1 - 1; y >= y0; y--) {
    for (let x = width - 1, i = y * width + x; x >= 0; x--, i--) {
      let best = far[i];
      if (x + 1 < width && far[i + 1] < best) best = Math.min(best, far[i + 1] + 1 + weight * apart(data, i, i + 1));
      if (y + 1 < height) {
        const down = i + width;
        if (far[down] < best) best = Math.min(best, far[down] + 1 + weight * apart(data, i, down));
        if (x > 0 && far[down - 1] < best)
          best = Math.min(best, far[down - 1] + DIAGONAL + weight * apart(data, i, down - 1));
        if (x + 1 < width && far[down + 1] < best)
          best = Math.min(best, far[down + 1] + DIAGONAL + weight * apart(data, i, down + 1));
      }
      far[i] = best;
    }
  }
}
