import { halveMask } from '../sieve/mips.ts';
import type { Mask } from '../raster/raster.ts';
import { cosine, sine } from '../math/trigonometry.ts';
import { chance } from '../math/chance.ts';
import { coverOf } from './cover.ts';
import { FULL, type Coverage } from './coverage.ts';
import type { TornRim } from './torn-rim.ts';
import { rimCover, sampledDisc, THIN, type Disc } from './sweep.ts';

/** One print of a tip. */
export interface Dab extends Disc {
  hardness: number;
  /** 0–1. */
  flow: number;
  /** Seed of what is left to chance in it. */
  seed: number;
}

let row = new Uint16Array(1024);

/**
 * Lays a round print over what was there, row by row.
 *
 * @param reach - Beyond it nothing is covered.
 * @param inner - Up to it all is.
 * @param tell - Of a texel between: how far it is covered, from its place beside the dab's middle and its distance.
 */
function printRows(
  cover: Coverage,
  { x, y, flow }: Dab,
  reach: number,
  inner: number,
  tell: (ox: number, oy: number, far: number) => number,
): void {
  const [y0, y1] = [Math.max(0, Math.floor(y - reach)), Math.min(cover.height, Math.ceil(y + reach))];
  if (!cover.wants(Math.floor(x - reach), y0, Math.ceil(x + reach), y1)) return;
  if (row.length < 2 * reach + 4) row = new Uint16Array(4 * reach + 8);
  const whole = Math.floor(FULL * flow + 0.5);
  for (let v = y0; v < y1; v++) {
    const oy = v + 0.5 - y;
    const half = reach * reach - oy * oy;
    if (half < 0) continue;
    const wide = Math.sqrt(half);
    const x0 = Math.max(0, Math.floor(x - wide));
    const x1 = Math.min(cover.width, Math.ceil(x + wide));
    if (x0 >= x1) continue;
    const within = inner > 0 ? inner * inner - oy * oy : -1;
    const near = within > 0 ? Math.sqrt(within) : 0;
    const fromFull = within > 0 ? Math.max(x0, Math.ceil(x - near)) : x1;
    const toFull = within > 0 ? Math.min(x1, Math.floor(x + near)) : x1;
    for (let u = x0; u < x1; u++) {
      if (u === fromFull && toFull > u) {
        row.fill(whole, u - x0, toFull - x0);
        u = toFull - 1;
        continue;
      }
      const ox = u + 0.5 - x;
      row[u - x0] = Math.floor(tell(ox, oy, Math.sqrt(ox * ox + oy * oy)) * flow + 0.5);
    }
    if (flow < 1) cover.addRow(v, x0, x1, row);
    else cover.mergeRow(v, x0, x1, row);
  }
}

/** A disc. */
export function printRound(cover: Coverage, dab: Dab): void {
  const { x, y, r, hardness } = dab;
  const soft = r * (1 - hardness);
  if (r < THIN && soft <= 1) {
    const [cx, cy] = [x - 0.5, y - 0.5];
    printRows(cover, dab, r + 1, r - 1.5, (ox, oy) => sampledDisc(dab, Math.round(cx + ox), Math.round(cy + oy)));
    return;
  }
  printRows(cover, dab, r + 1, r - Math.max(soft, 0.75), (ox, oy, far) => rimCover(r, far, hardness, ox, oy));
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
  const { r, hardness, seed } = dab;
  rim.fill(r);
  for (const [octave, { count, depth }] of TEETH.entries()) addTeeth(seed + 7 * octave, count, depth * torn * r);
  const inner = r * (1 - torn) * hardness - 1; // no tooth goes deeper
  printRows(cover, dab, r + 1, inner, (ox, oy, far) => {
    const at = around(ox, oy) * RIM;
    const k = at | 0;
    const edge = rim[k] + (rim[k + 1] - rim[k]) * (at - k);
    if (edge * (1 - hardness) > 1) return rimCover(edge, far, hardness, ox, oy);
    const inside = edge - far;
    if (inside > r || inside < -1) return inside > 0 ? FULL : 0;
    // a slanted rim is nearer than it is along the radius
    const slant = ((rim[k + 1] - rim[k]) * RIM) / (6.283185307179586 * (edge < 0.5 ? 0.5 : edge));
    return Math.floor(coverOf(inside / Math.sqrt(1 + slant * slant), ox, oy) * FULL + 0.5);
  });
}

/**
 * The same with teeth that lie in the picture.
 *
 * @param most - How deep the deepest go, as a share of the dab's radius.
 */
export function printTorn(cover: Coverage, dab: Dab, most: number, rim: TornRim): void {
  const { x, y, r, hardness } = dab;
  const deep = most * r;
  const soft = 1 + deep * rim.steepest; // texels within which the rim may pass
  printRows(cover, dab, r + 1, (r - deep) * hardness - 1, (ox, oy, far) => {
    const u = x + ox;
    const v = y + oy;
    const torn = rim.depthAt(u, v);
    const edge = r - deep * torn;
    if (edge * (1 - hardness) > 1) return rimCover(edge, far, hardness, ox, oy);
    const inside = edge - far;
    if (inside > soft || inside < -soft) return inside > 0 ? FULL : 0;
    // how fast it falls here: a slanted rim is nearer than it is along the radius
    const away = far > 0 ? 1 / far : 0;
    const across = deep * (rim.depthAt(u + 1, v) - torn) + ox * away;
    const down = deep * (rim.depthAt(u, v + 1) - torn) + oy * away;
    const slope = Math.sqrt(across * across + down * down);
    const off = inside / (slope < 1 ? 1 : slope);
    return Math.floor(coverOf(off < r - far ? off : r - far, ox, oy) * FULL + 0.5);
  });
}

/** Takes teeth of one size off the rim. */
function addTeeth(seed: number, count: number, depth: number): void {
  let tooth = 0;
  const first = chance(seed, 0);
  let from = first;
  let to = chance(seed, 1);
  for (let i = 0; i <= RIM; i++) {
    const place = (i * count) / RIM;
    if (place >= tooth + 1) {
      tooth++;
      from = to;
      to = tooth + 1 >= count ? first : chance(seed, tooth + 1);
    }
    rim[i] -= depth * (from + (to - from) * (place - tooth));
  }
}

/** Where around a point lies, 0–1: not the angle, but as even, and without a function that hosts differ in. */
function around(x: number, y: number): number {
  const sum = Math.abs(x) + Math.abs(y);
  if (sum === 0) return 0;
  const t = x / sum;
  return y >= 0 ? (1 - t) / 4 : (3 + t) / 4;
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
  const { r } = dab;
  const [full] = levels;
  const longest = Math.max(full.width, full.height);
  let level = 0;
  while (level + 1 < levels.length && Math.max(levels[level + 1].width, levels[level + 1].height) >= 2 * r) level++;
  const { width, height, data } = levels[level];
  const scale = Math.max(width, height) / (2 * r);
  const [c, s] = [cosine(degrees) * scale, sine(degrees) * scale];
  const [halfWidth, halfHeight] = [(r * full.width) / longest, (r * full.height) / longest];
  printRows(cover, dab, Math.sqrt(halfWidth * halfWidth + halfHeight * halfHeight) + 1, 0, (ox, oy) =>
    Math.floor(between(data, width, height, ox * c + oy * s + width / 2, oy * c - ox * s + height / 2) * 257),
  );
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
