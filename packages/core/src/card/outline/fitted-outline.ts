import { SieveError } from '../../errors.ts';
import { thresholdByte } from '../../math/threshold.ts';
import type { Mask } from '../../raster/raster.ts';
import { convexHull } from '../../fit/hull.ts';
import { coarser, contours, grown, ringArea, type Ring } from './contours.ts';
import { fewerCorners } from './fewer-corners.ts';
import { KeptCells } from './kept-cells.ts';
import { holdsAll, type Rim, rimOf, tighten } from './tighten.ts';

/** Corners that an outline may have in all. */
export const OUTLINE_CORNERS = { min: 3, max: 64, step: 1, digits: 0 } as const;

export interface OutlineSettings {
  /** Alpha from which a texel is kept, 0–1. */
  cutoff: number;
  /** What alpha is multiplied by before; left out: 1. */
  opacity?: number | undefined;
  /** In all polygons and holes together. */
  corners: number;
  /** Whether free areas inside are left open where that saves more than other corners do. */
  holes?: boolean | undefined;
  /**
   * Further levels whose kept texels have to be held, largest first, with what a bilinear filter keeps beside them: half a
   * texel of the level. Left out: the squares of the kept texels of the mask alone.
   */
  levels?: readonly Mask[] | undefined;
}

export interface OutlinePoint {
  x: number;
  y: number;
}

export interface FittedOutline {
  /** In texels from the top left corner, each once round; they do not meet. None where nothing is kept. */
  polygons: OutlinePoint[][];
  /** What lies free in them, where that was asked for. */
  holes: OutlinePoint[][];
  /** Texels² within the polygons, less the holes. */
  area: number;
}

/**
 * Polygons of few corners and little area around everything that is kept: no kept texel's square lies outside, and there
 * are at most so many corners in all. Where there are fewer corners than islands need, islands that lie near each other
 * share one. Polygons stay within the picture, but where three corners cannot.
 *
 * @throws SieveError `out-of-range` where corners are fewer than 3.
 */
export function fittedOutline(mask: Mask, settings: OutlineSettings): FittedOutline {
  return outlineOfCells(cellsOf(mask, settings), settings);
}

/** The same around what cells hold. */
export function outlineOfCells(
  cells: KeptCells,
  { corners, holes }: Pick<OutlineSettings, 'corners' | 'holes'>,
): FittedOutline {
  if (!(corners >= OUTLINE_CORNERS.min)) throw new SieveError('out-of-range', 'An outline has at least three corners.');
  if (!cells.taken.includes(1)) return { polygons: [], holes: [], area: 0 };
  const rim = rimOf(cells);
  const found: Ring[][] = [];
  for (const start of startsOf(cells, corners, holes ?? false)) {
    const rings = withoutNested(tightened(start, countsDownTo(corners), cells, rim));
    if (countOf(rings) > corners || !holdsAll(rings, cells)) continue; // no room for one with so few corners
    found.push(rings);
    if (found.length >= MOST_STARTS || ENOUGH * start.length <= corners) break;
  }
  found.push(plainest(cells, rim, corners));
  return outlineOf(found.reduce((best, rings) => (areaOf(rings) < areaOf(best) ? rings : best)));
}

/** Corners of the outlines that a curve has, where islands do not ask for more. */
export const CURVE_CORNERS = [4, 5, 6, 8, 10, 12, 16, 20, 24] as const;

const MOST_OF_CURVE = 24;

/** The outline of each number of corners: what a further corner saves. Empty where nothing is kept. */
export function outlineCurve(
  mask: Mask,
  settings: Omit<OutlineSettings, 'corners'>,
): { corners: number; outline: FittedOutline }[] {
  const cells = cellsOf(mask, settings);
  if (!cells.taken.includes(1)) return [];
  const rim = rimOf(cells);
  const most = MOST_OF_CURVE;
  const [start] = startsOf(cells, most, settings.holes ?? false);
  // from many corners to few: where the last ones lie says where those of the next lie, nearly
  let rings = tightened(start, countsDownTo(most), cells, rim);
  const curve = CURVE_CORNERS.toReversed().map((corners) => {
    if (countOf(rings) > corners) rings = tighten(fewerCorners(rings, corners, cells), cells, rim, cells);
    const fits = countOf(rings) <= corners && holdsAll(rings, cells);
    return { corners, rings: fits ? withoutNested(rings) : plainest(cells, rim, corners) };
  });
  // where fewer corners happen to do better, further ones have nothing to add
  let best: Ring[] = curve[curve.length - 1].rings;
  return curve.toReversed().map(({ corners, rings: own }) => {
    if (areaOf(own) < areaOf(best)) best = own;
    return { corners, outline: outlineOf(best) };
  });
}

/** @returns whether outlines hold all that is to be held of a mask. */
export function holdsKept(mask: Mask, settings: OutlineSettings): Holds {
  return holdsCells(cellsOf(mask, settings));
}

export type Holds = (outline: FittedOutline) => boolean;

/** The same of cells. */
export function holdsCells(cells: KeptCells): Holds {
  return ({ polygons, holes }) => {
    const ring = (way: 1 | -1) => (points: OutlinePoint[]) => {
      const given: Ring = points.map(({ x, y }) => [x, y]);
      return Math.sign(ringArea(given)) === way ? given : given.toReversed();
    };
    return holdsAll([...polygons.map(ring(1)), ...holes.map(ring(-1))], cells);
  };
}

function cellsOf(mask: Mask, { cutoff, opacity, levels }: Omit<OutlineSettings, 'corners'>): KeptCells {
  const cells = new KeptCells(mask.width, mask.height);
  const threshold = thresholdByte(cutoff, opacity);
  cells.add(mask, threshold, levels ? 0.5 : 0);
  for (const level of levels ?? []) if (level !== mask) cells.add(level, threshold, 0.5);
  return cells;
}

/** Cells along the longer side at which contours begin. */
const START_CELLS = 128;
/** Ways to join islands that are tried, at most. */
const MOST_STARTS = 2;
/** Corners an island with which it is worth an outline of its own. */
const ENOUGH = 4;

/** Contours of islands that enough corners can be given to, those that lie near each other joined; the fewest joined first. */
function* startsOf(cells: KeptCells, corners: number, holes: boolean): Generator<Ring[]> {
  const by = Math.ceil(Math.max(cells.columns, cells.rows) / START_CELLS);
  const start = coarser(cells, by);
  const scale = by * cells.size;
  let islands = Infinity;
  for (let reach = 0; islands > 1; reach = Math.max(reach + 1, Math.round(1.4 * reach))) {
    const found = contours(grown(start, reach));
    const all = holes ? found : withoutNested(found.filter((ring) => ringArea(ring) > 0));
    const outer = all.filter((ring) => ringArea(ring) > 0);
    if (outer.length === islands || 3 * outer.length > corners) continue;
    islands = outer.length;
    const place = ([x, y]: Ring[0]): Ring[0] => [Math.min(cells.width, x * scale), Math.min(cells.height, y * scale)];
    yield all.map((ring) => ring.map(place));
  }
}

/** Without polygons that lie in another one: what was a hole around them is filled. */
function withoutNested(rings: readonly Ring[]): Ring[] {
  return rings.filter((ring) => {
    if (ringArea(ring) < 0) return true;
    const around = rings.filter((other) => other !== ring && isIn(other, ring[0]));
    return around.reduce((depth, other) => depth + Math.sign(ringArea(other)), 0) <= 0;
  });
}

/** Even-odd along a line to the right. */
function isIn(ring: Ring, [x, y]: Ring[0]): boolean {
  return ring.reduce((inside, [ax, ay], i) => {
    const [bx, by] = ring.at(i - 1)!;
    return ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax ? !inside : inside;
  }, false);
}

/**
 * Numbers of corners on the way to the one that is wanted, the way of the curve where that is as far: what the curve says
 * of a number is what it comes to.
 */
function countsDownTo(corners: number): number[] {
  const first = Math.max(corners, MOST_OF_CURVE);
  const near = [8, 3, 0].map((spare) => first + spare);
  return [...near, ...CURVE_CORNERS.toReversed().filter((count) => count > corners && count < first), corners];
}

/** Takes corners out down to each of these numbers, and moves the others to their places. */
function tightened(start: readonly Ring[], counts: readonly number[], cells: KeptCells, rim: Rim): Ring[] {
  return counts.reduce<Ring[]>(
    (rings, count) => tighten(fewerCorners(rings, count, cells), cells, rim, cells),
    [...start],
  );
}

/** The convex hull with corners taken out; where that leaves too many, the box around it, or a triangle beyond the picture. */
function plainest(cells: KeptCells, rim: Rim, corners: number): Ring[] {
  const hull: Ring = convexHull(cells.allCorners()).map(([x, y]) => [x, y]);
  const within = fewerCorners([hull], corners, cells);
  if (countOf(within) <= corners) return within;
  const [xs, ys] = [hull.map(([x]) => x), hull.map(([, y]) => y)];
  const [left, right, top, bottom] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const box: Ring = [[left, top], [right, top], [right, bottom], [left, bottom]]; // prettier-ignore
  if (corners >= box.length) return [box];
  const [width, height] = [right - left, bottom - top];
  return tighten([[[left, top], [left + 2 * width, top], [left, top + 2 * height]]], cells, rim, null); // prettier-ignore
}

const countOf = (rings: readonly Ring[]) => rings.reduce((sum, ring) => sum + ring.length, 0);
const areaOf = (rings: readonly Ring[]) => rings.reduce((sum, ring) => sum + ringArea(ring), 0);

function outlineOf(rings: readonly Ring[]): FittedOutline {
  const points = (ring: Ring) => ring.map(([x, y]) => ({ x, y }));
  return {
    polygons: rings.filter((r) => ringArea(r) > 0).map(points),
    holes: rings.filter((r) => ringArea(r) < 0).map(points),
    area: areaOf(rings),
  };
}
