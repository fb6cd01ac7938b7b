import { blurValues, type Values } from '../mask/blur.ts';
import type { Work } from '../raster/work.ts';
import type { Heights } from './normals.ts';

/** Half of what one step of 8 bits is of 65535. */
const HALF_STEP = 128.5;
/** Texels over which steps are evened: a slope of a step in 24 texels comes out even. */
const WIDTHS = [1.5, 4, 10, 24];
const JOINED_OVER = 3;

/** Whether 16 bits hold what 8 bits hold: whatever the file says. */
export function hasSteps(data: Uint16Array): boolean {
  return data.every((v) => v % 257 === 0);
}

/**
 * Heights of 8 bits as 16: between its steps a smooth surface is put in the place of terraces. No height moves by more
 * than half a step, which is what rounding to 8 bits may have moved it by, so that nothing that was there is smoothed away.
 *
 * @returns one value a texel, 0–65535.
 */
export function evenSteps({ width, height, data }: Heights, env: Work): Float32Array {
  const reach = Math.ceil(3 * WIDTHS[WIDTHS.length - 1] * env.scale);
  const [padX, padY] = [Math.min(reach, width - 1), Math.min(reach, height - 1)];
  const values = goneOn(data, width, height, padX, padY);
  const out = Float32Array.from(data);
  // each texel takes the widest mean that is no farther off than rounding was: narrow ones first, wider ones over them
  for (const wide of WIDTHS) {
    const soft = blurValues(values, wide * env.scale, env);
    for (let y = 0, i = 0; y < height; y++) {
      for (let x = 0, k = (y + padY) * values.width + padX; x < width; x++, i++, k++) {
        const off = soft[k] - data[i];
        if (off <= HALF_STEP && off >= -HALF_STEP) out[i] = soft[k];
      }
    }
  }
  // where the width changes, surfaces meet
  const [nearX, nearY] = [padX, padY].map((pad) => Math.min(pad, Math.ceil(3 * JOINED_OVER)));
  const whole = goneOn(out, width, height, nearX, nearY);
  const joined = blurValues(whole, JOINED_OVER * env.scale, env);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0, k = (y + nearY) * whole.width + nearX; x < width; x++, i++, k++) {
      const low = data[i] - HALF_STEP;
      const high = data[i] + HALF_STEP;
      out[i] = joined[k] < low ? low : joined[k] > high ? high : joined[k];
    }
  }
  return out;
}

/** With its border turned about itself beyond it, so that a slope goes on as a slope. */
function goneOn(data: Uint16Array | Float32Array, width: number, height: number, padX: number, padY: number): Values {
  const wide = width + 2 * padX;
  const out = new Float32Array(wide * (height + 2 * padY));
  const inside = (at: number, side: number) => (at < 0 ? -at : at >= side ? 2 * side - 2 - at : at);
  for (let y = -padY; y < height + padY; y++) {
    const v = inside(y, height);
    const edge = v === y ? null : y < 0 ? 0 : height - 1;
    for (let x = -padX, o = (y + padY) * wide; x < width + padX; x++, o++) {
      const u = inside(x, width);
      const beside = u === x ? x : x < 0 ? 0 : width - 1;
      if (edge === null && u === x) out[o] = data[v * width + u];
      else out[o] = 2 * data[(edge ?? v) * width + beside] - data[v * width + u];
    }
  }
  return { width: wide, height: height + 2 * padY, data: out };
}
