import type { Raster, Samples } from '../raster/raster.ts';

/** How far the directions that a picture holds are from length 1, on average over some 20,000 of its texels. */
export function strayLength({ width, height, channels, data }: Raster<Samples>): number {
  const full = data instanceof Uint8Array ? 255 : 65535;
  const step = Math.max(1, Math.floor((width * height) / 20000));
  let sum = 0;
  let count = 0;
  for (let i = 0; i < width * height; i += step, count++) {
    const at = (c: number) => (2 * data[channels * i + c]) / full - 1;
    const [x, y, z] = [at(0), at(1), at(2)];
    sum += Math.abs(Math.sqrt(x * x + y * y + z * z) - 1);
  }
  return count > 0 ? sum / count : 0;
}
