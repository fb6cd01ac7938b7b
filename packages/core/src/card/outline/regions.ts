import { findRegions } from '../../mask/regions.ts';
import { cosine, sine } from '../../math/trigonometry.ts';
import { makeMask, type Mask } from '../../raster/raster.ts';
import { asByHand, outlineByHand } from './by-hand.ts';
import type { OutlineByHand } from './card-outline.ts';
import {
  holdsCells,
  outlineOfCells,
  type FittedOutline,
  type Holds,
  type OutlinePoint,
  type OutlineSettings,
} from './fitted-outline.ts';
import { KeptCells } from './kept-cells.ts';

/** The upright rectangle of a part in a texture, in widths of the texture: its middle, its sides, degrees it is turned by. */
export interface CardRegion {
  /** The same part of the same atlas, wherever it is packed. */
  key: string;
  x: number;
  y: number;
  turn: number;
  wide: number;
  tall: number;
}

type Size = Pick<Mask, 'width' | 'height'>;

/** An outline of a part: in texels of the texture, and in shares of its own rectangle. */
export interface RegionOutline {
  outline: FittedOutline;
  shares: OutlineByHand;
  /** Texels² of the rectangle. */
  whole: number;
}

/** Cells along the longer side of a part: there are many of them, and each is fitted by itself. */
const CELLS = 64;

/** Texels around a rectangle that are looked at: what is kept out there is of another part. */
const MARGIN = 3;

/**
 * The outline of one part of an atlas. What reaches beyond its rectangle, and what lies in the smaller rectangle of another
 * part, is left to that. Of texels that lie turned in it, the upright box around each is held.
 *
 * @param threshold - Alpha byte from which a texel is kept.
 * @param settings - Its levels are those of the texture.
 */
export function regionOutline(
  mask: Mask,
  region: CardRegion,
  others: readonly CardRegion[],
  threshold: number,
  settings: OutlineSettings,
): RegionOutline {
  const { width, height } = regionSize(region, mask.width);
  if (width * height > MOST_OF_TEXTURE * mask.width * mask.height) return regionByHand(region, RECTANGLE, mask.width);
  const cells = cellsOf(mask, region, others, threshold, settings);
  const found = cells.taken.includes(1) ? outlineOfCells(cells, settings) : { polygons: [], holes: [], area: 0 };
  return placed(region, found, mask.width);
}

/** Texels of a texture of this width that a part's rectangle is wide and high. */
export function regionSize({ wide, tall }: CardRegion, texture: number): Size {
  const [width, height] = [wide, tall].map((side) => Math.max(1, Math.round(side * texture)));
  return { width, height };
}

/** An outline of a part that was set by hand. @param texture - Texels that the texture is wide. */
export function regionByHand(region: CardRegion, byHand: OutlineByHand, texture: number): RegionOutline {
  return placed(region, outlineByHand(byHand, regionSize(region, texture)), texture);
}

/** @param found - In texels of the upright rectangle. */
function placed(region: CardRegion, found: FittedOutline, texture: number): RegionOutline {
  const { width, height } = regionSize(region, texture);
  const inTexture = ({ x, y }: OutlinePoint) => placeIn(region, x / width, y / height, texture);
  return {
    outline: {
      polygons: found.polygons.map((points) => points.map(inTexture)),
      holes: found.holes.map((points) => points.map(inTexture)),
      area: found.area,
    },
    shares: asByHand(found, { width, height }),
    whole: width * height,
  };
}

/** Whether outlines in the upright rectangle of a part hold all that is to be held of it. */
export function holdsRegion(
  mask: Mask,
  region: CardRegion,
  others: readonly CardRegion[],
  threshold: number,
  settings: OutlineSettings,
): Holds {
  const { width, height } = regionSize(region, mask.width);
  if (width * height > MOST_OF_TEXTURE * mask.width * mask.height) return () => true;
  return holdsCells(cellsOf(mask, region, others, threshold, settings));
}

/** What is kept of a part in its upright rectangle, at the nearest texel of each. */
export function regionTexels(mask: Mask, region: CardRegion, others: readonly CardRegion[], threshold: number): Mask {
  const { width, height } = regionSize(region, mask.width);
  if (width * height > MOST_OF_TEXTURE * mask.width * mask.height) return makeMask(1, 1, new Uint8Array(1));
  return ownTexels(mask, { width, height }, region, others, threshold);
}

function cellsOf(
  mask: Mask,
  region: CardRegion,
  others: readonly CardRegion[],
  threshold: number,
  settings: OutlineSettings,
): KeptCells {
  const { width, height } = regionSize(region, mask.width);
  const own = sumsOf(ownTexels(mask, { width, height }, region, others, threshold));
  const cells = new KeptCells(width, height, CELLS);
  for (const level of settings.levels ?? [mask]) {
    addTurned(cells, level, mask.width / level.width, { region, threshold, own, around: settings.levels ? 0.5 : 0 });
  }
  return cells;
}

/** A rectangle larger than that many textures is left as it is: reading it would cost more than it saves. */
const MOST_OF_TEXTURE = 2;

const RECTANGLE: OutlineByHand = { polygons: [[[0, 0], [1, 0], [1, 1], [0, 1]]], holes: [] }; // prettier-ignore

/** Adds what is kept of a level, and a part's own, to the cells of its upright rectangle. @param by - Texels of the mask in one. */
function addTurned(
  cells: KeptCells,
  { width, height, data }: Mask,
  by: number,
  { region, threshold, own, around }: { region: CardRegion; threshold: number; own: Sums; around: number },
): void {
  const [cos, sin] = [cosine(region.turn), sine(region.turn)];
  const texture = width * by;
  const [sx, sy] = [cells.width / (region.wide * texture), cells.height / (region.tall * texture)];
  const half = (0.5 + around) * by * (Math.abs(cos) + Math.abs(sin));
  const reach = (Math.abs(region.wide * cos) + Math.abs(region.tall * sin)) / 2;
  const drop = (Math.abs(region.wide * sin) + Math.abs(region.tall * cos)) / 2;
  const keeps = (i: number) => data[i] >= threshold;
  const isWithin = (x: number, y: number) => {
    const i = y * width + x;
    const isInside = x > 0 && y > 0 && x < width - 1 && y < height - 1;
    return isInside && keeps(i - 1) && keeps(i + 1) && keeps(i - width) && keeps(i + width);
  };
  const from = (middle: number, far: number) => Math.max(0, Math.floor((middle - far) * width) - 1);
  const to = (middle: number, far: number, most: number) => Math.min(most, Math.ceil((middle + far) * width) + 1);
  for (let y = from(region.y, drop), last = to(region.y, drop, height); y < last; y++) {
    const dy = (y + 0.5) * by - region.y * texture;
    for (let x = from(region.x, reach), end = to(region.x, reach, width); x < end; x++) {
      if (data[y * width + x] < threshold) continue;
      const dx = (x + 0.5) * by - region.x * texture;
      const u = (dx * cos + dy * sin) * sx + cells.width / 2;
      const v = (dy * cos - dx * sin) * sy + cells.height / 2;
      // what lies within others is held by them: it only says that its cell is taken
      if (isWithin(x, y) && cells.isTakenAt(u, v)) continue;
      const [left, top, right, bottom] = [u - half * sx, v - half * sy, u + half * sx, v + half * sy];
      if (hasAny(own, left, top, right, bottom)) cells.addBox(left, top, right, bottom);
    }
  }
}

/** How many texels are kept above and left of each place, a row and a column more than the mask has. */
interface Sums {
  width: number;
  height: number;
  sums: Uint32Array;
}

function sumsOf({ width, height, data }: Mask): Sums {
  const sums = new Uint32Array((width + 1) * (height + 1));
  for (let y = 0; y < height; y++) {
    let row = 0;
    for (let x = 0; x < width; x++) {
      if (data[y * width + x] > 0) row++;
      sums[(y + 1) * (width + 1) + x + 1] = sums[y * (width + 1) + x + 1] + row;
    }
  }
  return { width, height, sums };
}

/** Whether any texel that a box meets is kept. */
function hasAny({ width, height, sums }: Sums, left: number, top: number, right: number, bottom: number): boolean {
  const [x0, y0] = [Math.max(0, Math.floor(left)), Math.max(0, Math.floor(top))];
  const [x1, y1] = [Math.min(width, Math.ceil(right)), Math.min(height, Math.ceil(bottom))];
  if (x0 >= x1 || y0 >= y1) return false;
  const at = (x: number, y: number) => sums[y * (width + 1) + x];
  return at(x1, y1) - at(x0, y1) - at(x1, y0) + at(x0, y0) > 0;
}

/** Of a place in shares of a rectangle, where it lies in a texture of this width. */
function placeIn({ x, y, turn, wide, tall }: CardRegion, across: number, down: number, width: number): OutlinePoint {
  const [cos, sin] = [cosine(turn), sine(turn)];
  const [dx, dy] = [(across - 0.5) * wide, (down - 0.5) * tall];
  return { x: (x + dx * cos - dy * sin) * width, y: (y + dx * sin + dy * cos) * width };
}

/** The other way round: in texels of its upright rectangle. @param texture - Texels that the texture is wide. */
export function placeOn(region: CardRegion, at: OutlinePoint, texture: number): OutlinePoint {
  const { width, height } = regionSize(region, texture);
  const [cos, sin] = [cosine(region.turn), sine(region.turn)];
  const [dx, dy] = [at.x / texture - region.x, at.y / texture - region.y];
  return {
    x: ((dx * cos + dy * sin) / region.wide + 0.5) * width,
    y: ((dy * cos - dx * sin) / region.tall + 0.5) * height,
  };
}

/** The mask within a rectangle, upright, at the nearest texel of each. */
function seen(
  { width, height, data }: Mask,
  size: { width: number; height: number },
  region: CardRegion,
  margin: number,
): Mask {
  const [w, h] = [size.width + 2 * margin, size.height + 2 * margin];
  const out = new Uint8Array(w * h);
  const at = (x: number, y: number) =>
    placeIn(region, (x - margin + 0.5) / size.width, (y - margin + 0.5) / size.height, width);
  const [first, right] = [at(0, 0), at(1, 0)];
  const [dx, dy] = [right.x - first.x, right.y - first.y];
  for (let y = 0, o = 0; y < h; y++) {
    const row = at(0, y);
    for (let x = 0; x < w; x++, o++) {
      const [u, v] = [Math.floor(row.x + x * dx), Math.floor(row.y + x * dy)];
      if (u >= 0 && v >= 0 && u < width && v < height) out[o] = data[v * width + u];
    }
  }
  return makeMask(w, h, out);
}

/** What of a rectangle is the part's own; all of it where nothing would be left. */
function ownTexels(
  mask: Mask,
  size: { width: number; height: number },
  region: CardRegion,
  others: readonly CardRegion[],
  threshold: number,
): Mask {
  const { width, height, data } = seen(mask, size, region, MARGIN);
  const found = findRegions(data, width, height, { low: threshold, high: 255, connectivity: 8 }, () => undefined);
  const boxes = Array.from({ length: found.count }, () => [Infinity, Infinity, -Infinity, -Infinity]);
  for (let i = 0; i < found.regionOf.length; i++) {
    const [y, from, to] = found.runs.subarray(3 * i, 3 * i + 3);
    const box = boxes[found.regionOf[i]];
    [box[0], box[1], box[2], box[3]] = [Math.min(box[0], from), Math.min(box[1], y), Math.max(box[2], to), Math.max(box[3], y + 1)]; // prettier-ignore
  }
  const isOthers = boxes.map(([x0, y0, x1, y1]) => {
    if (x0 === 0 || y0 === 0 || x1 === width || y1 === height) return true;
    const [across, down] = [((x0 + x1) / 2 - MARGIN) / size.width, ((y0 + y1) / 2 - MARGIN) / size.height];
    const middle = placeIn(region, across, down, 1);
    return others.some((other) => other.wide * other.tall < region.wide * region.tall && holds(other, middle));
  });
  const all = isOthers.every(Boolean);
  const out = new Uint8Array(size.width * size.height);
  for (let i = 0; i < found.regionOf.length; i++) {
    if (!all && isOthers[found.regionOf[i]]) continue;
    const [y, from, to] = found.runs.subarray(3 * i, 3 * i + 3);
    if (y < MARGIN || y >= MARGIN + size.height) continue;
    const [a, b] = [Math.max(MARGIN, from), Math.min(MARGIN + size.width, to)];
    const row = (y - MARGIN) * size.width - MARGIN;
    if (a < b) out.fill(255, row + a, row + b);
  }
  return makeMask(size.width, size.height, out);
}

function holds({ x, y, turn, wide, tall }: CardRegion, at: OutlinePoint): boolean {
  const [cos, sin] = [cosine(turn), sine(turn)];
  const [dx, dy] = [at.x - x, at.y - y];
  return Math.abs(dx * cos + dy * sin) < wide / 2 && Math.abs(dy * cos - dx * sin) < tall / 2;
}
