import { LINEAR_OF_BYTE } from '../colour/srgb.ts';
import type { Picture } from '../raster/raster.ts';
import { colourMips } from '../sieve/mips.ts';

/** A picture that is laid along a line, its lower border at the root; its alpha says where there is anything. */
export interface Stamp {
  readonly width: number;
  readonly height: number;
  /** Level 0 first, each half as wide and tall. */
  readonly levels: readonly Picture[];
}

const known = new WeakMap<Picture, Stamp>();

/** Its levels are made once for a picture. */
export function stampOf(picture: Picture): Stamp {
  const found = known.get(picture);
  if (found) return found;
  const { width, height } = picture;
  const stamp = { width, height, levels: [picture, ...colourMips(picture)] };
  known.set(picture, stamp);
  return stamp;
}

/** The level whose texels are about as large as those that are painted. @param rate - Texels of level 0 to one painted. */
export function levelFor({ levels }: Stamp, rate: number): Picture {
  let level = 0;
  for (let left = rate; left > Math.SQRT2 && level + 1 < levels.length; left /= 2) level++;
  return levels[level];
}

const LINEAR = Float32Array.from(LINEAR_OF_BYTE);

/**
 * Reads between four texels: linear R, G, B times alpha, and alpha, 0–1, into `out`.
 *
 * @param across - From the left border (0) to the right one (1).
 * @param along - From the lower border (0) to the upper one (1).
 */
export function readStamp({ width, height, data }: Picture, across: number, along: number, out: Float32Array): void {
  let x = across * width - 0.5;
  let y = (1 - along) * height - 0.5;
  if (x < 0) x = 0;
  else if (x > width - 1) x = width - 1;
  if (y < 0) y = 0;
  else if (y > height - 1) y = height - 1;
  const left = x | 0;
  const top = y | 0;
  const right = left + 1 < width ? 4 : 0;
  const below = top + 1 < height ? 4 * width : 0;
  const fx = x - left;
  const fy = y - top;
  const i = 4 * (top * width + left);
  const a = data[i + 3] * (1 - fx) * (1 - fy);
  const b = data[i + right + 3] * fx * (1 - fy);
  const c = data[i + below + 3] * (1 - fx) * fy;
  const d = data[i + below + right + 3] * fx * fy;
  for (let k = 0; k < 3; k++) {
    out[k] =
      (LINEAR[data[i + k]] * a +
        LINEAR[data[i + right + k]] * b +
        LINEAR[data[i + below + k]] * c +
        LINEAR[data[i + below + right + k]] * d) /
      255;
  }
  out[3] = (a + b + c + d) / 255;
}
