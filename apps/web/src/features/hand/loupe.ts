import type { Mask, Picture } from '@lithe-sieve/core';
import type { Point } from '../../drawing/poses';

/** Texels on each side of the one under the pointer. */
export const AROUND = 6;
/** Pixels of a texel, and of the whole. */
export const CELL = 9;
export const SIDE = (2 * AROUND + 1) * CELL;

const BEYOND = [119, 121, 122];
const LINEN = [214, 207, 191];
const AMBER = [216, 150, 46];
const THREADS = { light: [251, 247, 236], dark: [90, 83, 66] };

/**
 * The texels around a place, one by one: the picture as it came, under threads of linen where it is dropped; a bar of amber
 * says how much of a partly covered one there is. One pass over pixels: drawing each texel with a path costs the page more
 * than the stroke does.
 *
 * @param picture - Of the mask's size.
 * @param threshold - The least byte that is kept.
 * @param out - RGBA, SIDE × SIDE.
 */
export function drawLoupe(mask: Mask, picture: Picture, at: Point, threshold: number, out: Uint8ClampedArray): void {
  const rgb = [0, 0, 0];
  for (let j = 0; j <= 2 * AROUND; j++) {
    for (let i = 0; i <= 2 * AROUND; i++) {
      const [x, y] = [Math.floor(at.x) + i - AROUND, Math.floor(at.y) + j - AROUND];
      const inside = x >= 0 && y >= 0 && x < mask.width && y < mask.height;
      const texel = y * mask.width + x;
      const alpha = inside ? mask.data[texel] : 255;
      const dropped = alpha < threshold;
      for (let c = 0; c < 3; c++) {
        const own = inside ? picture.data[4 * texel + c] : BEYOND[c];
        rgb[c] = dropped ? 0.66 * own + 0.34 * LINEN[c] : own;
      }
      const bar = alpha === 255 ? 0 : (CELL * alpha) / 255;
      const thread = !dropped ? null : rgb[1] > 190 ? THREADS.dark : THREADS.light;
      fillCell(out, i, j, rgb, bar, thread);
    }
  }
}

function fillCell(
  out: Uint8ClampedArray,
  i: number,
  j: number,
  rgb: readonly number[],
  bar: number,
  thread: readonly number[] | null,
): void {
  const middle = i === AROUND && j === AROUND;
  const last = CELL - 1;
  for (let y = 0; y < CELL; y++) {
    for (let x = 0, o = 4 * ((j * CELL + y) * SIDE + i * CELL); x < CELL; x++, o += 4) {
      const rim = middle && (x === 0 || y === 0 || x === last || y === last);
      const amber = y < 2 && x < bar;
      const on = thread && (x === y || x === last - y) ? thread : null;
      for (let c = 0; c < 3; c++) {
        out[o + c] = rim ? 255 : amber ? AMBER[c] : on ? 0.45 * rgb[c] + 0.55 * on[c] : rgb[c];
      }
      out[o + 3] = 255;
    }
  }
}
