import type { Picture, Raster } from '../raster/raster.ts';
import { colourMips } from '../sieve/mips.ts';
import type { PartMap } from './part.ts';

/** A picture that is laid along a line, its lower border at the root; its alpha says where there is anything. */
export interface Stamp {
  readonly width: number;
  readonly height: number;
  /** Level 0 first, each half as wide and tall. */
  readonly levels: readonly StampLevel[];
  /** Which of its maps count. */
  readonly maps: readonly PartMap[];
}

export interface StampLevel extends Picture {
  /** Normal to the right and up, height, translucency: four to a texel. */
  readonly relief?: Uint16Array | undefined;
}

const known = new WeakMap<Picture, Stamp>();

/**
 * Its levels are made once for a picture.
 *
 * @param relief - Of its size; see {@link Part}.
 */
export function stampOf(picture: Picture, relief?: Raster<Uint16Array>, maps: readonly PartMap[] = []): Stamp {
  const found = known.get(picture);
  if (found && (!relief || found.levels[0].relief === relief.data)) return found;
  const { width, height } = picture;
  const levels: StampLevel[] = [picture, ...colourMips(picture)];
  if (relief) {
    let data = relief.data;
    for (const [k, level] of levels.entries()) {
      if (k > 0) data = halvedRelief(data, levels[k - 1], level);
      levels[k] = { ...level, relief: data };
    }
  }
  const stamp = { width, height, levels, maps };
  known.set(picture, stamp);
  return stamp;
}

/** Means of what is there: beyond the edge there is no surface. */
function halvedRelief(data: Uint16Array, from: Picture, to: Picture): Uint16Array {
  const out = new Uint16Array(4 * to.width * to.height);
  for (let y = 0, o = 0; y < to.height; y++) {
    for (let x = 0; x < to.width; x++, o += 4) {
      let [weight, a, b, c, d] = [0, 0, 0, 0, 0];
      for (let v = 2 * y; v < Math.min(2 * y + 2, from.height); v++) {
        for (let u = 2 * x; u < Math.min(2 * x + 2, from.width); u++) {
          const i = 4 * (v * from.width + u);
          const w = from.data[i + 3] + 1 / 256;
          weight += w;
          a += w * data[i];
          b += w * data[i + 1];
          c += w * data[i + 2];
          d += w * data[i + 3];
        }
      }
      out[o] = a / weight + 0.5;
      out[o + 1] = b / weight + 0.5;
      out[o + 2] = c / weight + 0.5;
      out[o + 3] = d / weight + 0.5;
    }
  }
  return out;
}

/** The level whose texels are about as large as those that are painted. @param rate - Texels of level 0 to one painted. */
export function levelFor({ levels }: Stamp, rate: number): StampLevel {
  let level = 0;
  for (let left = rate; left > Math.SQRT2 && level + 1 < levels.length; left /= 2) level++;
  return levels[level];
}

/**
 * Reads the relief between four texels, 0–1 each, into `out`.
 *
 * @param across - From the left border (0) to the right one (1).
 * @param along - From the lower border (0) to the upper one (1).
 */
export function readRelief(
  { width, height, relief }: StampLevel,
  across: number,
  along: number,
  out: Float32Array,
): void {
  const x = Math.min(width - 1, Math.max(0, across * width - 0.5));
  const y = Math.min(height - 1, Math.max(0, (1 - along) * height - 0.5));
  const left = x | 0;
  const top = y | 0;
  const right = left + 1 < width ? 4 : 0;
  const below = top + 1 < height ? 4 * width : 0;
  const fx = x - left;
  const fy = y - top;
  const i = 4 * (top * width + left);
  for (let k = i; k < i + 4; k++) {
    const upper = relief![k] * (1 - fx) + relief![k + right] * fx;
    const lower = relief![k + below] * (1 - fx) + relief![k + below + right] * fx;
    out[k - i] = (upper * (1 - fy) + lower * fy) / 65535;
  }
}
