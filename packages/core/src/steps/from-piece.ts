import { cosine, sine } from '../math/trigonometry.ts';
import { makeMask, type Mask } from '../raster/raster.ts';
import { halveMask } from '../sieve/mips.ts';
import { extractChannel } from './from-channel.ts';
import type { StepKind } from './step.ts';

export interface FromPieceParams {
  /** The source that holds the other piece's mask, as its luminance. */
  sourceId: string;
  /** Where its middle lies, in texels from the middle of this picture. */
  x: number;
  y: number;
  /** One: its texels as large as those here. */
  size: number;
  /** Turn about its middle. */
  angle: number;
}

/** The mask of another piece, placed: its texels are read between the four nearest, outside it nothing is kept. */
export const fromPiece: StepKind<FromPieceParams> = {
  stretch: 'mask',
  purpose: 'pull',
  label: 'From other piece',
  hint: 'Lays the mask of another piece over this picture: moved, turned and scaled.',
  defaults: { sourceId: '', x: 0, y: 0, size: 1, angle: 0 },
  ranges: {
    x: { min: -8192, max: 8192, step: 1, digits: 1, unit: 'texels' },
    y: { min: -8192, max: 8192, step: 1, digits: 1, unit: 'texels' },
    size: { min: 0.02, max: 50, logarithmic: true },
    angle: { min: -180, max: 180, step: 0.5, digits: 1, unit: 'degrees' },
  },
  pullsMask: true,
  reads: ({ sourceId }) => (sourceId ? [{ id: sourceId, as: 'data', otherSize: 'placed' }] : []),
  apply({ colour }, { sourceId, x, y, size, angle }, env) {
    if (!sourceId) return { notice: 'Choose the piece whose mask is taken.' };
    let other = extractChannel(env.asData(env.source(sourceId)), 'luminance', env);
    let scale = size;
    for (; scale <= 0.5 && other.width > 1 && other.height > 1; scale *= 2) other = halveMask(other, env.allocate);
    const { width, height } = colour;
    const out = env.allocate(width * height);
    const turn = { cos: cosine(angle) / scale, sin: sine(angle) / scale };
    const middle = { x: width / 2 + x * env.scale, y: height / 2 + y * env.scale };
    env.bands(height, (y0, y1) => placeRows(other, turn, middle, width, out, y0, y1));
    return { mask: makeMask(width, height, out) };
  },
};

/** Each texel here looks back to where it lies in the other mask. */
function placeRows(
  other: Mask,
  turn: { cos: number; sin: number },
  middle: { x: number; y: number },
  width: number,
  out: Uint8Array,
  y0: number,
  y1: number,
): void {
  const { width: w, height: h, data } = other;
  for (let y = y0; y < y1; y++) {
    const dy = y + 0.5 - middle.y;
    for (let x = 0; x < width; x++) {
      const dx = x + 0.5 - middle.x;
      const u = dx * turn.cos + dy * turn.sin + w / 2 - 0.5;
      const v = dy * turn.cos - dx * turn.sin + h / 2 - 0.5;
      const left = Math.floor(u);
      const top = Math.floor(v);
      if (left < -1 || top < -1 || left >= w || top >= h) {
        out[y * width + x] = 0;
        continue;
      }
      const a = u - left;
      const b = v - top;
      const i = top * w + left;
      const inX = left >= 0;
      const inX1 = left + 1 < w;
      const up = top >= 0 ? (inX ? data[i] * (1 - a) : 0) + (inX1 ? data[i + 1] * a : 0) : 0;
      const low = top + 1 < h ? (inX ? data[i + w] * (1 - a) : 0) + (inX1 ? data[i + w + 1] * a : 0) : 0;
      out[y * width + x] = up * (1 - b) + low * b + 0.5;
    }
  }
}
