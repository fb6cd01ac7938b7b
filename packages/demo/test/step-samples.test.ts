import { join } from 'node:path';
import { expect, test } from '@jest/globals';
import { STEP_KINDS, type StepKindName } from '@lithe-sieve/core';
import { drawStepSample } from '@lithe-sieve/demo';
import sharp from 'sharp';

const PICTURES = join(import.meta.dirname, '../../../docs/help/pictures');
const KINDS = Object.keys(STEP_KINDS) as StepKindName[];
/** Of 255 in the mean: what the compression of the pictures may change. */
const LOSSY = 8;

/** Mean difference of two parts of RGBA rows, of 255. */
function apart(a: Uint8Array, b: Uint8Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += Math.abs(a[i] - b[i]);
  return sum / a.length;
}

test.each(KINDS)(
  '%s: after it there is another picture than before, and the help page shows that one',
  async (kind) => {
    const { width, height, data } = drawStepSample(kind);
    const half = (from: number) => {
      const side = height * 4;
      const out = new Uint8Array(side * height);
      for (let y = 0; y < height; y++) out.set(data.subarray(4 * (y * width + from), 4 * (y * width + from) + side), y * side); // prettier-ignore
      return out;
    };
    expect(apart(half(0), half(width - height))).toBeGreaterThan(0.3);
    const shipped = await sharp(join(PICTURES, `${kind}.webp`))
      .ensureAlpha()
      .raw()
      .toBuffer();
    expect(shipped).toHaveLength(data.length);
    expect(apart(shipped, data)).toBeLessThan(LOSSY);
  },
);
