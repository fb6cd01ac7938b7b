import type { Mask } from '../../raster/raster.ts';
import type { OutlineByHand, Places } from './card-outline.ts';
import { ringArea, type Ring } from './contours.ts';
import { OUTLINE_CORNERS, type FittedOutline, type Holds, type OutlinePoint } from './fitted-outline.ts';

type Size = Pick<Mask, 'width' | 'height'>;

/** An outline that was set by hand, on a mask of this size. */
export function outlineByHand({ polygons, holes }: OutlineByHand, { width, height }: Size): FittedOutline {
  const points = (of: Places): OutlinePoint[] => of.map(([x, y]) => ({ x: x * width, y: y * height }));
  return withArea(polygons.map(points), holes.map(points));
}

/** The same as it is kept in a document. */
export function asByHand({ polygons, holes }: FittedOutline, { width, height }: Size): OutlineByHand {
  const places = (of: OutlinePoint[]): Places => of.map(({ x, y }) => [x / width, y / height]);
  return { polygons: polygons.map(places), holes: holes.map(places) };
}

function withArea(polygons: OutlinePoint[][], holes: OutlinePoint[][]): FittedOutline {
  const areaOf = (of: OutlinePoint[]) => Math.abs(ringArea(ringOf(of)));
  const sum = (of: OutlinePoint[][]) => of.reduce((total, points) => total + areaOf(points), 0);
  return { polygons, holes, area: Math.max(0, sum(polygons) - sum(holes)) };
}

const ringOf = (points: readonly OutlinePoint[]): Ring => points.map(({ x, y }) => [x, y]);

/** Where in an outline a corner is: of which polygon, counted on over the holes, and which of it. */
interface CornerAt {
  polygon: number;
  corner: number;
}

/**
 * An outline with one corner moved as far towards a place as all that is kept stays inside and no two sides cross.
 *
 * @param holds - Whether an outline holds what is kept; one that says yes to all lets it be cut: then only the sides stay
 * clear of each other.
 */
function cornerMoved(
  from: FittedOutline,
  { polygon, corner }: CornerAt,
  to: OutlinePoint,
  holds: Holds,
): FittedOutline {
  const start = ringsOf(from)[polygon][corner];
  const at = (share: number): FittedOutline => {
    const place = { x: start.x + share * (to.x - start.x), y: start.y + share * (to.y - start.y) };
    return withRing(from, polygon, (ring) => ring.map((p, i) => (i === corner ? place : p)));
  };
  const isFine = (outline: FittedOutline) => isPlain(outline) && holds(outline);
  if (isFine(at(1))) return at(1);
  let [fine, bad] = [0, 1];
  for (let k = 0; k < STEPS; k++) {
    const middle = (fine + bad) / 2;
    if (isFine(at(middle))) fine = middle;
    else bad = middle;
  }
  return at(fine);
}

/** Halvings of the way to where a corner stops: a thousandth of it. */
const STEPS = 10;

/** A corner more, in the middle of the side after one. */
function cornerAdded(outline: FittedOutline, { polygon, corner }: CornerAt): FittedOutline {
  return withRing(outline, polygon, (ring) => {
    const [a, b] = [ring[corner], ring[(corner + 1) % ring.length]];
    return ring.toSpliced(corner + 1, 0, { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 });
  });
}

/** A corner fewer; null where kept texels would lie outside, sides would cross, or no polygon would be left. */
function cornerRemoved(outline: FittedOutline, { polygon, corner }: CornerAt, holds: Holds): FittedOutline | null {
  if (ringsOf(outline)[polygon].length <= 3) return null;
  const fewer = withRing(outline, polygon, (ring) => ring.toSpliced(corner, 1));
  return isPlain(fewer) && holds(fewer) ? fewer : null;
}

/** What is done to a corner by hand. */
export type CornerChange = CornerAt &
  ({ do: 'move'; to: OutlinePoint } | { do: 'add'; to?: OutlinePoint } | { do: 'remove' });

/** The outline after that, as far as it may be; null where it may not. See {@link cornerMoved}. */
export function cornerChanged(
  outline: FittedOutline,
  change: CornerChange,
  holds: Holds,
  size: Size,
): FittedOutline | null {
  const moved = (from: FittedOutline, at: CornerAt, to: OutlinePoint) =>
    cornerMoved(from, at, nearPicture(to, size), holds);
  if (change.do === 'move') return moved(outline, change, change.to);
  if (change.do === 'remove') return cornerRemoved(outline, change, holds);
  if (ringsOf(outline).reduce((sum, { length }) => sum + length, 0) >= OUTLINE_CORNERS.max) return null;
  const added = cornerAdded(outline, change);
  return change.to ? moved(added, { ...change, corner: change.corner + 1 }, change.to) : added;
}

/** At most as far beyond the picture as it is wide and high. */
function nearPicture({ x, y }: OutlinePoint, { width, height }: Size): OutlinePoint {
  return { x: Math.min(2 * width, Math.max(-width, x)), y: Math.min(2 * height, Math.max(-height, y)) };
}

const ringsOf = ({ polygons, holes }: FittedOutline) => [...polygons, ...holes];

function withRing(
  { polygons, holes }: FittedOutline,
  which: number,
  change: (ring: OutlinePoint[]) => OutlinePoint[],
): FittedOutline {
  const changed = (ring: OutlinePoint[], k: number) => (k === which ? change(ring) : ring);
  return withArea(
    polygons.map((ring, k) => changed(ring, k)),
    holes.map((ring, k) => changed(ring, polygons.length + k)),
  );
}

/** Whether no two sides of an outline cross or touch, neighbours apart. */
function isPlain(outline: FittedOutline): boolean {
  const sides = ringsOf(outline).flatMap((ring, r) =>
    ring.map((p, i) => ({ p, q: ring[(i + 1) % ring.length], r, i, of: ring.length })),
  );
  return sides.every((a, k) =>
    sides.slice(k + 1).every((b) => {
      const follows = a.r === b.r && (b.i === a.i + 1 || (a.i === 0 && b.i === a.of - 1));
      return follows ? !foldsBack(a.i + 1 === b.i ? [a, b] : [b, a]) : !meet(a, b);
    }),
  );
}

interface Side {
  p: OutlinePoint;
  q: OutlinePoint;
}

const turn = (a: OutlinePoint, b: OutlinePoint, c: OutlinePoint) =>
  (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);

function meet(a: Side, b: Side): boolean {
  return turn(a.p, a.q, b.p) * turn(a.p, a.q, b.q) <= 0 && turn(b.p, b.q, a.p) * turn(b.p, b.q, a.q) <= 0;
}

/** Whether a side goes back on the one before it. */
function foldsBack([a, b]: [Side, Side]): boolean {
  const along = (a.q.x - a.p.x) * (b.q.x - b.p.x) + (a.q.y - a.p.y) * (b.q.y - b.p.y);
  return turn(a.p, a.q, b.q) === 0 && along <= 0;
}

/**
 * How many kept texels do not lie in an outline with all of their square.
 *
 * @param threshold - Alpha byte from which a texel is kept.
 */
export function keptOutside(mask: Mask, outline: FittedOutline, threshold: number): number {
  const { width, height, data } = mask;
  const sides = ringsOf(outline).flatMap((ring) => ring.map((p, i): Side => ({ p, q: ring[(i + 1) % ring.length] })));
  const isIn = new Uint8Array(width);
  let outside = 0;
  for (let y = 0; y < height; y++) {
    isIn.fill(0);
    const crossings: number[] = [];
    for (const { p, q } of sides) {
      if (p.y > y + 0.5 !== q.y > y + 0.5) crossings.push(p.x + ((y + 0.5 - p.y) * (q.x - p.x)) / (q.y - p.y));
    }
    crossings.sort((a, b) => a - b);
    for (let k = 0; k + 1 < crossings.length; k += 2) {
      isIn.fill(1, clampTo(width, Math.ceil(crossings[k] - 0.5)), clampTo(width, Math.ceil(crossings[k + 1] - 0.5)));
    }
    for (const side of sides) {
      const span = spanIn(side, y);
      if (span) isIn.fill(0, clampTo(width, Math.floor(span[0] + TOUCH)), clampTo(width, Math.ceil(span[1] - TOUCH)));
    }
    for (let x = 0, i = y * width; x < width; x++, i++) if (data[i] >= threshold && isIn[x] === 0) outside++;
  }
  return outside;
}

/** Texels by which a side may reach into a square: rounding. */
const TOUCH = 1e-6;
const clampTo = (most: number, v: number) => Math.max(0, Math.min(most, v));

/** From where to where a side goes within a row; null where it only touches it. */
function spanIn({ p, q }: Side, y: number): [number, number] | null {
  const [top, bottom] = [Math.max(y, Math.min(p.y, q.y)), Math.min(y + 1, Math.max(p.y, q.y))];
  const isLevel = p.y === q.y;
  if (isLevel ? p.y <= y + TOUCH || p.y >= y + 1 - TOUCH : bottom - top <= TOUCH) return null;
  if (isLevel) return [Math.min(p.x, q.x), Math.max(p.x, q.x)];
  const at = (v: number) => p.x + ((v - p.y) * (q.x - p.x)) / (q.y - p.y);
  const [a, b] = [at(top), at(bottom)];
  return [Math.min(a, b), Math.max(a, b)];
}
