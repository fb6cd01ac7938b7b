import { halveMask } from '../sieve/mips.ts';
import type { Mask } from '../raster/raster.ts';
import { cosine, sine } from '../math/trigonometry.ts';
import { chance } from './chance.ts';
import { coverOf } from './cover.ts';
import { FULL, type Coverage } from './coverage.ts';
import { rimCover, sampledDisc, THIN, type Disc } from './sweep.ts';

/** One print of a tip. */
export interface Dab extends Disc {
  hardness: number;
  /** 0–1. */
  flow: number;
  /** Of what is left to chance in it. */
  seed: number;
}

let row = new Uint16Array(1024);

/** Calls `tell` for the texels of a square around the dab, and lays each row over what was there. */
function printRows(cover: Coverage, { x, y, flow }: Dab, reach: number, tell: (x: number, y: number) => number): void {
  const [x0, x1] = [Math.max(0, Math.floor(x - reach)), Math.min(cover.width, Math.ceil(x + reach))];
  const [y0, y1] = [Math.max(0, Math.floor(y - reach)), Math.min(cover.height, Math.ceil(y + reach))];
  if (x0 >= x1 || !cover.wants(x0, y0, x1, y1)) return;
  if (row.length < x1 - x0) row = new Uint16Array(2 * (x1 - x0));
  for (let v = y0; v < y1; v++) {
    for (let u = x0; u < x1; u++) row[u - x0] = Math.floor(tell(u, v) * flow + 0.5);
    if (flow < 1) cover.addRow(v, x0, x1, row);
    else cover.mergeRow(v, x0, x1, row);
  }
}

/** A disc. */
export function printRound(cover: Coverage, dab: Dab): void {
  const { x, y, r, hardness } = dab;
  const small = r < THIN && r * (1 - hardness) <= 1;
  printRows(cover, dab, r + 1, (u, v) => {
    const ox = u + 0.5 - x;
    const oy = v + 0.5 - y;
    return small ? sampledDisc(dab, u, v) : rimCover(r, Math.sqrt(ox * ox + oy * oy), hardness, ox, oy);
  });
}

/** Teeth of three sizes around a torn rim, and how deep each goes. */
const TEETH = [
  { count: 9, depth: 0.5 },
  { count: 23, depth: 0.32 },
  { count: 61, depth: 0.18 },
];
const RIM = 256;
const rim = new Float64Array(RIM + 1);

/**
 * A disc with a rim as a torn leaf has: teeth around it that are the same for the same seed and grow with the diameter.
 *
 * @param torn - How deep the deepest go, as a share of the radius.
 */
export function printRagged(cover: Coverage, dab: Dab, torn: number): void {
  const { x, y, r, hardness, seed } = dab;
  for (let i = 0; i <= RIM; i++) rim[i] = r * (1 - torn * depthAt(seed, (i % RIM) / RIM));
  const innermost = r * (1 - torn) * Math.min(1, hardness) - 1; // no tooth goes deeper
  printRows(cover, dab, r + 1, (u, v) => {
    const ox = u + 0.5 - x;
    const oy = v + 0.5 - y;
    const far = Math.sqrt(ox * ox + oy * oy);
    if (far > r + 1) return 0;
    if (far < innermost) return FULL;
    const at = around(ox, oy) * RIM;
    const k = at | 0;
    const edge = rim[k] + (rim[k + 1] - rim[k]) * (at - k);
    if (edge * (1 - hardness) > 1) return rimCover(edge, far, hardness, ox, oy);
    // a slanted rim is nearer than it is along the radius
    const slant = ((rim[k + 1] - rim[k]) * RIM) / (6.283185307179586 * Math.max(edge, 0.5));
    return Math.floor(coverOf((edge - far) / Math.sqrt(1 + slant * slant), ox, oy) * FULL + 0.5);
  });
}

/** Where around a point lies, 0–1: not the angle, but as even, and without a function that hosts differ in. */
function around(x: number, y: number): number {
  const sum = Math.abs(x) + Math.abs(y);
  if (sum === 0) return 0;
  const t = x / sum;
  return y >= 0 ? (1 - t) / 4 : (3 + t) / 4;
}

function depthAt(seed: number, at: number): number {
  let depth = 0;
  for (const [octave, { count, depth: share }] of TEETH.entries()) {
    const place = at * count;
    const k = Math.floor(place);
    const t = place - k;
    const from = chance(seed, octave * 1000 + k);
    const to = chance(seed, octave * 1000 + ((k + 1) % count));
    depth += share * (from + (to - from) * t);
  }
  return depth;
}

/** The mask of a tip made from a piece, with smaller versions of it. */
export interface TipPicture {
  levels: Mask[];
}

export function tipPicture(mask: Mask): TipPicture {
  const levels = [mask];
  while (levels[levels.length - 1].width > 2 && levels[levels.length - 1].height > 2) {
    levels.push(halveMask(levels[levels.length - 1]));
  }
  return { levels };
}

/** A print of a mask, its longer side as long as the dab is wide, turned by `degrees`. */
export function printPicture(cover: Coverage, dab: Dab, { levels }: TipPicture, degrees: number): void {
  const { x, y, r } = dab;
  const [full] = levels;
  const longest = Math.max(full.width, full.height);
  let level = 0;
  while (level + 1 < levels.length && Math.max(levels[level + 1].width, levels[level + 1].height) >= 2 * r) level++;
  const { width, height, data } = levels[level];
  const scale = Math.max(width, height) / (2 * r);
  const [c, s] = [cosine(degrees) * scale, sine(degrees) * scale];
  const [halfWidth, halfHeight] = [(r * full.width) / longest, (r * full.height) / longest];
  printRows(cover, dab, Math.sqrt(halfWidth * halfWidth + halfHeight * halfHeight) + 1, (u, v) => {
    const [ox, oy] = [u + 0.5 - x, v + 0.5 - y];
    return Math.floor(between(data, width, height, ox * c + oy * s + width / 2, oy * c - ox * s + height / 2) * 257);
  });
}

/** Between the four nearest texels; nothing lies beyond the border. */
function between(data: Uint8Array, width: number, height: number, x: number, y: number): number {
  const [fx, fy] = [x - 0.5, y - 0.5];
  const [x0, y0] = [Math.floor(fx), Math.floor(fy)];
  if (x0 < -1 || y0 < -1 || x0 >= width || y0 >= height) return 0;
  const [tx, ty] = [fx - x0, fy - y0];
  const at = (u: number, v: number) => (u < 0 || v < 0 || u >= width || v >= height ? 0 : data[v * width + u]);
  const upper = at(x0, y0) * (1 - tx) + at(x0 + 1, y0) * tx;
  return upper * (1 - ty) + (at(x0, y0 + 1) * (1 - tx) + at(x0 + 1, y0 + 1) * tx) * ty;
}
