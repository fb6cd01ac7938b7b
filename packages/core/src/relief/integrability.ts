import type { Raster, Samples } from '../raster/raster.ts';

/**
 * Whether the green of a normal map points up or down: the slopes of a real surface have no curl, ∂p/∂y = ∂q/∂x; with
 * green the wrong way round they do (A. Frankot, R. Chellappa, "A Method for Enforcing Integrability in Shape from
 * Shading Algorithms", 1988). Of slopes read both ways, the mean of the curl over the mean of the gradients.
 *
 * @returns Curl as a share, 0–1, read with +Y up and read with +Y down; nulls where the map is flat.
 */
export function curlOf({ width, height, channels, data }: Raster<Samples>): { up: number; down: number } | null {
  const step = Math.max(1, Math.floor(Math.max(width, height) / 512));
  const half = data instanceof Uint8Array ? 127.5 : 32767.5;
  let up = 0;
  let down = 0;
  let all = 0;
  const slope = (i: number, c: 0 | 1) => {
    const z = Math.max(0.05, data[channels * i + 2] / half - 1);
    return (data[channels * i + c] / half - 1) / z;
  };
  for (let y = 1; y + 1 < height; y += step) {
    for (let x = 1; x + 1 < width; x += step) {
      const i = y * width + x;
      // ∂p/∂y with y up, and ∂q/∂x
      const py = (slope(i - width, 0) - slope(i + width, 0)) / 2;
      const qx = (slope(i + 1, 1) - slope(i - 1, 1)) / 2;
      up += Math.abs(py - qx);
      down += Math.abs(py + qx);
      all += Math.abs(py) + Math.abs(qx);
    }
  }
  return all > 1e-3 * (width / step) * (height / step) * 0.01 ? { up: up / all, down: down / all } : null;
}
