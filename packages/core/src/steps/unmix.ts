import { backdropRow, fitBackdrop } from '../matte/backdrop.ts';
import { estimateForeground } from '../matte/foreground.ts';
import { asWords, makePicture, type Mask, type Picture } from '../raster/raster.ts';
import type { Rgb } from '../colour/srgb.ts';
import type { StepKind } from './step.ts';

export interface UnmixParams {
  /** Where the backdrop's colour comes from: found from the border, the one given, or what lies around each texel. */
  from: UnmixFrom;
  matte: Rgb;
  /** Alpha, 0–1, below which nothing of the subject is left to tell: such texels stay as they are, for bleed. */
  least: number;
}

export const UNMIX_FROMS = ['the backdrop', 'one colour', 'what lies around'] as const;
export type UnmixFrom = (typeof UNMIX_FROMS)[number];

/**
 * The subject's own colour in the fringe: C = α F + (1 − α) B solved for F (Porter, Duff 1984), in encoded values, where
 * B is known; else F and B are estimated together, see {@link estimateForeground}.
 */
export const unmix: StepKind<UnmixParams> = {
  stretch: 'colour',
  purpose: 'colour',
  label: 'Unmix',
  hint: 'Takes the backdrop out of the fringe, so that the subject’s own colour is left there.',
  defaults: { from: 'the backdrop', matte: [0, 0, 0], least: 0.1 },
  ranges: { least: { min: 0.02, max: 1 } },
  pullsMask: false,
  apply({ colour, mask }, { from, matte, least }, env) {
    const out = env.allocate(colour.data.length);
    if (from === 'what lies around') {
      takeForeground(colour, mask, estimateForeground(colour, mask, env), least, asWords(out));
      return { colour: makePicture(colour.width, colour.height, out) };
    }
    const row = new Float64Array(12);
    for (let c = 0; c < 3; c++) row[4 * c] = matte[c] / 255;
    const backdrop = from === 'the backdrop' ? fitBackdrop(colour) : null;
    env.bands(colour.height, (y0, y1) => {
      for (let y = y0; y < y1; y++) {
        if (backdrop) backdropRow(backdrop, y, row);
        unmixRow(colour, mask, row, least, out, y);
      }
    });
    return { colour: makePicture(colour.width, colour.height, out) };
  },
};

function takeForeground(colour: Picture, mask: Mask, front: Uint32Array, least: number, out: Uint32Array): void {
  const own = asWords(colour.data);
  for (let i = 0; i < out.length; i++) {
    const alpha = mask.data[i];
    out[i] = alpha < 255 && alpha >= 255 * least ? (own[i] & 0xff000000) | (front[i] & 0xffffff) : own[i];
  }
}

function unmixRow(
  { width, data }: Picture,
  mask: Mask,
  row: Float64Array,
  least: number,
  out: Uint8Array,
  y: number,
): void {
  const floor = 255 * least;
  for (let x = 0, i = y * width; x < width; x++, i++) {
    const alpha = mask.data[i];
    const mixed = alpha < 255 && alpha >= floor;
    const u = (2 * (x + 0.5)) / width - 1;
    for (let c = 0; c < 3; c++) {
      const own = data[4 * i + c];
      if (!mixed) {
        out[4 * i + c] = own;
        continue;
      }
      const b = 255 * (row[4 * c] + u * (row[4 * c + 1] + u * (row[4 * c + 2] + u * row[4 * c + 3])));
      const v = (255 * own - (255 - alpha) * b) / alpha + 0.5;
      out[4 * i + c] = v < 0 ? 0 : v > 255 ? 255 : v;
    }
    out[4 * i + 3] = data[4 * i + 3];
  }
}
