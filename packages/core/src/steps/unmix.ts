import { byteOfLinear16Table, LINEAR_OF_BYTE } from '../colour/srgb.ts';
import { nearestTexels } from '../mask/nearest.ts';
import { backdropRow, fitBackdrop, type Backdrop } from '../matte/backdrop.ts';
import { estimateForeground } from '../matte/foreground.ts';
import { MixingSearch, type FoundMixing, type MixedIn } from '../matte/mixing.ts';
import { asWords, makePicture, type Mask, type Picture } from '../raster/raster.ts';
import type { Rgb } from '../colour/srgb.ts';
import type { StepEnv, StepKind } from './step.ts';

export interface UnmixParams {
  /** Where the backdrop's colour comes from: found from the border, the one given, or what lies around each texel. */
  from: UnmixFrom;
  matte: Rgb;
  /** Alpha, 0–1, below which nothing of the subject is left to tell: such texels stay as they are, for bleed. */
  least: number;
  /** In which values subject and backdrop were mixed. */
  mixed: MixedIn;
}

export const UNMIX_FROMS = ['the backdrop', 'one colour', 'what lies around'] as const;
export type UnmixFrom = (typeof UNMIX_FROMS)[number];

/**
 * The subject's own colour in the fringe: C = α F + (1 − α) B solved for F (Porter, Duff 1984), in the values that were
 * mixed, where B is known; else F and B are estimated together, see {@link estimateForeground}.
 */
export const unmix: StepKind<UnmixParams> = {
  stretch: 'colour',
  purpose: 'colour',
  label: 'Unmix',
  hint: 'Takes the backdrop out of the fringe, so that the subject’s own colour is left there.',
  defaults: { from: 'the backdrop', matte: [0, 0, 0], least: 0.1, mixed: 'found' },
  ranges: { least: { min: 0.02, max: 1 } },
  version: 2,
  better: 'What lies around is taken as light too, where the picture was mixed as light: before, as sRGB values.',
  pullsMask: false,
  apply({ colour, mask }, { from, matte, least, mixed }, env) {
    const out = env.allocate(colour.data.length);
    if (from === 'what lies around') {
      const found = mixed === 'found' && env.version >= 2 ? findMixingAround(colour, mask, env) : null;
      const asked = mixed === 'found' || env.version < 2 ? 'encoded values' : mixed;
      const front = estimateForeground(colour, mask, env, found?.mixed ?? asked);
      takeForeground(colour, mask, front, least, asWords(out));
      return { colour: makePicture(colour.width, colour.height, out), ...(found && { notice: found.notice }) };
    }
    const row = new Float64Array(12);
    for (let c = 0; c < 3; c++) row[4 * c] = matte[c] / 255;
    const backdrop = from === 'the backdrop' ? fitBackdrop(colour) : null;
    const found = mixed === 'found' ? findMixing(colour, mask, backdrop, row, env) : null;
    const linear = (found?.mixed ?? mixed) === 'linear light';
    env.bands(colour.height, (y0, y1) => {
      for (let y = y0; y < y1; y++) {
        if (backdrop) backdropRow(backdrop, y, row);
        unmixRow(colour, mask, row, least, linear, out, y);
      }
    });
    return { colour: makePicture(colour.width, colour.height, out), ...(found && { notice: found.notice }) };
  },
};

/** Texels of the fringe that are looked at, and how far from them their own colour is looked for. */
const LOOKED = 40_000;
const REACH = 24;

function findMixing(
  colour: Picture,
  mask: Mask,
  backdrop: Backdrop | null,
  row: Float64Array,
  env: StepEnv,
): FoundMixing {
  const { width, data } = colour;
  const own = nearestTexels(mask, { threshold: 255, reach: REACH * env.scale + 1 }, env);
  const search = new MixingSearch();
  const back = new Uint8Array(4);
  lookAtFringe(mask, own, own, (i) => {
    const x = i % width;
    if (backdrop) backdropRow(backdrop, (i - x) / width, row);
    const u = (2 * (x + 0.5)) / width - 1;
    for (let c = 0; c < 3; c++) back[c] = 255 * backAt(row, c, u) + 0.5;
    search.look(data, i, data, own[i], back, 0, mask.data[i] / 255);
  });
  return search.found();
}

/** The same where the backdrop is what lies nearest. */
function findMixingAround({ data }: Picture, mask: Mask, env: StepEnv): FoundMixing {
  const reach = REACH * env.scale + 1;
  const own = nearestTexels(mask, { threshold: 255, reach }, env);
  const around = nearestTexels(mask, { threshold: 1, below: true, reach }, env);
  const search = new MixingSearch();
  lookAtFringe(mask, own, around, (i) => search.look(data, i, data, own[i], data, around[i], mask.data[i] / 255));
  return search.found();
}

/** Looks at texels of the fringe, evenly spread, that have a texel of each near them. */
function lookAtFringe(mask: Mask, own: Int32Array, around: Int32Array, look: (i: number) => void): void {
  const mixed = (i: number) => mask.data[i] > 0 && mask.data[i] < 255 && own[i] >= 0 && around[i] >= 0;
  let count = 0;
  for (let i = 0; i < own.length; i++) if (mixed(i)) count++;
  const every = Math.max(1, Math.floor(count / LOOKED));
  for (let i = 0, n = 0; i < own.length; i++) if (mixed(i) && n++ % every === 0) look(i);
}

/** The backdrop of a row at a place from −1 to 1, encoded 0–1. */
function backAt(row: Float64Array, c: number, u: number): number {
  const v = row[4 * c] + u * (row[4 * c + 1] + u * (row[4 * c + 2] + u * row[4 * c + 3]));
  return v < 0 ? 0 : v > 1 ? 1 : v;
}

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
  linear: boolean,
  out: Uint8Array,
  y: number,
): void {
  const floor = 255 * least;
  const encode = linear ? byteOfLinear16Table() : null;
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
      if (encode) {
        const light = LINEAR_OF_BYTE[own] - (1 - alpha / 255) * lightAt(backAt(row, c, u));
        const v = (65535 * 255 * light) / alpha + 0.5;
        out[4 * i + c] = encode[v < 0 ? 0 : v > 65535 ? 65535 : v | 0];
        continue;
      }
      const b = 255 * (row[4 * c] + u * (row[4 * c + 1] + u * (row[4 * c + 2] + u * row[4 * c + 3])));
      const v = (255 * own - (255 - alpha) * b) / alpha + 0.5;
      out[4 * i + c] = v < 0 ? 0 : v > 255 ? 255 : v;
    }
    out[4 * i + 3] = data[4 * i + 3];
  }
}

/** Light of an encoded value between bytes. */
function lightAt(encoded: number): number {
  const place = 255 * encoded;
  const low = Math.min(254, place | 0);
  return LINEAR_OF_BYTE[low] + (LINEAR_OF_BYTE[low + 1] - LINEAR_OF_BYTE[low]) * (place - low);
}
