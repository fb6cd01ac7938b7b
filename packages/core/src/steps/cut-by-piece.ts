import { cosine, sine } from '../math/trigonometry.ts';
import { makeMask, type Mask } from '../raster/raster.ts';
import { halveMask } from '../sieve/mips.ts';
import { extractChannel } from './from-channel.ts';
import type { StepKind } from './step.ts';

/** Which piece a copy was taken of, and at which revision. */
export interface TakenOf {
  piece: string;
  name: string;
  revision: number;
}

export interface CutByPieceParams {
  /** The source that holds the other piece's mask, as its luminance. */
  sourceId: string;
  of: TakenOf | null;
  /** Width of what its picture shows, millimetres; here texels are as large as the card makes them. */
  across: number;
  /** Where its middle lies, millimetres from the middle of this picture. */
  x: number;
  y: number;
  /** Turn about its middle. */
  angle: number;
  /** Whether it goes on beyond its borders; else all is kept there. */
  repeats: boolean;
  /** Whether what it keeps is cut out, in place of its holes. */
  inverted: boolean;
}

/** This piece's surface with the holes of another, at a scale in millimetres: lace over cloth, a net over a pattern. */
export const cutByPiece: StepKind<CutByPieceParams> = {
  stretch: 'mask',
  purpose: 'cut',
  label: 'Cut by another piece',
  hint: 'Cuts the holes of another piece into this one, at their size in millimetres.',
  defaults: { sourceId: '', of: null, across: 500, x: 0, y: 0, angle: 0, repeats: true, inverted: false },
  ranges: {
    across: { min: 1, max: 100_000, digits: 1, unit: 'mm', logarithmic: true },
    x: { min: -10_000, max: 10_000, step: 1, digits: 1, unit: 'mm' },
    y: { min: -10_000, max: 10_000, step: 1, digits: 1, unit: 'mm' },
    angle: { min: -180, max: 180, step: 0.5, digits: 1, unit: 'degrees' },
  },
  inMillimetres: true,
  pullsMask: false,
  reads: ({ sourceId }) => (sourceId ? [{ id: sourceId, as: 'data', otherSize: 'placed' }] : []),
  apply({ mask }, { sourceId, across, x, y, angle, repeats, inverted }, env) {
    if (!sourceId) return { notice: 'Choose the piece whose holes are cut.' };
    let other = extractChannel(env.asData(env.source(sourceId)), 'luminance', env);
    // texels here to one of the other's
    let scale = across / env.texelMm / other.width;
    for (; scale <= 0.5 && other.width > 1 && other.height > 1; scale *= 2) other = halveMask(other, env.allocate);
    const { width, height } = mask;
    const out = env.allocate(width * height);
    const turn = { cos: cosine(angle) / scale, sin: sine(angle) / scale };
    const middle = { x: width / 2 + x / env.texelMm, y: height / 2 + y / env.texelMm };
    const beyond = repeats ? null : inverted ? 0 : 255;
    env.bands(height, (y0, y1) => cutRows(mask, other, turn, middle, beyond, inverted, out, y0, y1));
    return { mask: makeMask(width, height, out) };
  },
};

/** Alpha of both multiplied: each texel here looks back to where it lies in the other mask, between its four nearest. */
function cutRows(
  mask: Mask,
  { width: w, height: h, data }: Mask,
  turn: { cos: number; sin: number },
  middle: { x: number; y: number },
  beyond: number | null,
  inverted: boolean,
  out: Uint8Array,
  y0: number,
  y1: number,
): void {
  const wrapped = (i: number, side: number) => ((i % side) + side) % side;
  for (let y = y0; y < y1; y++) {
    const dy = y + 0.5 - middle.y;
    for (let x = 0, o = y * mask.width; x < mask.width; x++, o++) {
      const own = mask.data[o];
      if (own === 0) continue; // memory is given empty
      const dx = x + 0.5 - middle.x;
      const u = dx * turn.cos + dy * turn.sin + w / 2 - 0.5;
      const v = dy * turn.cos - dx * turn.sin + h / 2 - 0.5;
      const left = Math.floor(u);
      const top = Math.floor(v);
      let other = beyond ?? 0;
      if (beyond === null || (u > -0.5 && v > -0.5 && u < w - 0.5 && v < h - 0.5)) {
        const [a, b] = [u - left, v - top];
        const [i, j] = [wrapped(left, w), wrapped(left + 1, w)];
        const [upper, lower] = [w * wrapped(top, h), w * wrapped(top + 1, h)];
        const up = data[upper + i] * (1 - a) + data[upper + j] * a;
        const low = data[lower + i] * (1 - a) + data[lower + j] * a;
        other = up * (1 - b) + low * b;
      }
      out[o] = (own * (inverted ? 255 - other : other)) / 255 + 0.5;
    }
  }
}
