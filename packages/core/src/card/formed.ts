import earcut from 'earcut';
import type { Vec3 } from '../math/vector.ts';
import {
  around,
  catenary,
  directionAlong,
  pieceAt,
  pointAlong,
  polyline,
  straight,
  turning,
  type Curve,
  type Polyline,
} from './curves.ts';
import type { CardForm, FormKind } from './form.ts';

/** Metres. */
export interface CardSize {
  width: number;
  height: number;
}

/** Corners of an outline on a card: shares of its width from the left and of its height from the bottom. */
export type Share = readonly [across: number, up: number];

/** What of a card there is: polygons that do not meet, and holes in them; null: all of it. */
export type CutOut = { polygons: readonly (readonly Share[])[]; holes: readonly (readonly Share[])[] } | null;

/** Where a card lies before it is set up: its front faces +Z, its root stands on y = 0. */
export interface FormedCard {
  positions: Vec3[];
  normals: Vec3[];
  shares: Share[];
  /** Three a triangle, counterclockwise seen from the front. */
  indices: number[];
}

/** Across a card, and from its root up; both as the card is bent. */
interface Curves {
  across: Curve;
  up: Curve;
  /** Length across at which the card's own middle line stays. */
  middle: number;
}

const DEGREES_DOWN = -90;
const METRES = 0.001;

/** The two curves that a card follows; a new kind of form is an entry here and in `form.ts`. */
const CURVES: Record<FormKind, (form: CardForm, size: CardSize) => Curves> = {
  flat: (_form, { width, height }) => ({ across: straight(width), up: straight(height), middle: width / 2 }),
  bent: ({ along, curl, across, lean }, { width, height }) => ({
    across: turning(width, across, { begin: -across / 2 }),
    up: turning(height, along, { curl, begin: lean }),
    middle: width / 2,
  }),
  folded({ fold, round, foldAt, along, curl, lean }, { width, height }) {
    const arc = Math.min(round, 2 * foldAt, 2 - 2 * foldAt) * width;
    return {
      across: around(width, foldAt * width - arc / 2, arc, fold, -fold / 2),
      up: turning(height, along, { curl, begin: lean }),
      middle: foldAt * width,
    };
  },
  // the front hangs, the top goes to the back
  'over an edge'({ over, radius }, { width, height }) {
    const arc = Math.min((radius * METRES * Math.PI) / 2, height * (1 - over));
    const up = around(height, height * (1 - over) - arc, arc, DEGREES_DOWN);
    return { across: straight(width), up, middle: width / 2 };
  },
  'round a post'({ radius, wrap }, { width, height }) {
    const arc = Math.min(width, (radius * METRES * wrap * Math.PI) / 180);
    const degrees = (-arc * 180) / (radius * METRES * Math.PI);
    const across = around(width, (width - arc) / 2, arc, degrees, -degrees / 2);
    return { across, up: straight(height), middle: width / 2 };
  },
  // from its front edge to its back one, the picture upwards
  slung({ sag }, { width, height }) {
    const chain = catenary(height, sag);
    const direction = (at: number) => {
      const [on, rise] = chain.direction(at);
      return [rise, -on] as const;
    };
    return { across: straight(width), up: { ...chain, direction }, middle: width / 2 };
  },
};

/** A card as its form bends it, of the pieces that its two curves are made of. */
export function formedCard(form: CardForm, size: CardSize, cutOut: CutOut): FormedCard {
  const curves = CURVES[form.kind](form, size);
  const across = polyline(curves.across, form);
  const up = polyline(curves.up, form);
  const [middleOn, middleUp] = pointAlong(across, curves.middle, pieceAt(across, curves.middle));
  const left = curves.middle - size.width / 2 - middleOn;
  const out: FormedCard = { positions: [], normals: [], shares: [], indices: [] };
  const known = new Map<string, number>();
  for (const polygon of cut(piecesOf(cutOut), across, up, size)) {
    const middle = meanOf(polygon);
    const [i, j] = [pieceAt(across, middle[0] * size.width), pieceAt(up, middle[1] * size.height)];
    const corners = polygon.map((share) => {
      const [s, t] = [share[0] * size.width, share[1] * size.height];
      const [sOn, sUp] = directionAlong(across, s, i);
      const [tOn, tUp] = directionAlong(up, t, j);
      // the card's own normal there: the section's, turned with the way up
      const normal: Vec3 = [-sUp, 0 - sOn * tUp, sOn * tOn];
      const key = `${share[0]} ${share[1]} ${normal.map((n) => n.toFixed(5)).join(' ')}`;
      const found = known.get(key);
      if (found !== undefined) return found;
      const [x, risen] = pointAlong(across, s, i);
      const [y, z] = pointAlong(up, t, j);
      const away = risen - middleUp;
      out.positions.push([left + x, y - away * tUp, z + away * tOn]);
      out.normals.push(normal);
      out.shares.push(share);
      known.set(key, out.positions.length - 1);
      return out.positions.length - 1;
    });
    for (let k = 2; k < corners.length; k++) out.indices.push(corners[0], corners[k - 1], corners[k]);
  }
  return onGround(form.kind, out);
}

/** What hangs or is slung touches the ground where it is lowest; what grows keeps its root there. */
function onGround(kind: FormKind, card: FormedCard): FormedCard {
  if (kind !== 'slung' || card.positions.length === 0) return card;
  const lowest = Math.min(...card.positions.map(([, y]) => y));
  return { ...card, positions: card.positions.map(([x, y, z]) => [x, y - lowest, z]) };
}

/** Convex pieces that a card, or what is cut out of it, is made of: all of it is one. */
function piecesOf(cutOut: CutOut): Share[][] {
  if (!cutOut) return [[[0, 0], [1, 0], [1, 1], [0, 1]]]; // prettier-ignore
  const { polygons, holes } = cutOut;
  return polygons.flatMap((polygon) => {
    const inside = holes.filter((hole) => contains(polygon, hole[0]));
    const points = [polygon, ...inside].flat();
    const starts: number[] = [];
    let at = polygon.length;
    for (const hole of inside) {
      starts.push(at);
      at += hole.length;
    }
    const triangles = earcut(points.flat(), starts);
    return Array.from({ length: triangles.length / 3 }, (_, t) => {
      const [a, b, c] = [0, 1, 2].map((k) => points[triangles[3 * t + k]]);
      const area = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
      return area > 0 ? [a, b, c] : [a, c, b];
    });
  });
}

/** Every piece cut where the pieces of the curves meet, so that each part lies on one piece of both. */
function cut(pieces: Share[][], across: Polyline, up: Polyline, { width, height }: CardSize): Share[][] {
  let parts = pieces;
  for (const stop of across.stops.slice(1, -1)) parts = parts.flatMap((part) => halves(part, 0, stop / width));
  for (const stop of up.stops.slice(1, -1)) parts = parts.flatMap((part) => halves(part, 1, stop / height));
  return parts;
}

/** Shares of a card within which a corner lies on a line: no part is thinner. */
const ON_THE_LINE = 1e-7;

/** A convex polygon on both sides of a line (I. Sutherland, G. Hodgman, 1974); one of them may be all of it. */
function halves(polygon: Share[], axis: 0 | 1, at: number): Share[][] {
  const [below, above]: Share[][] = [[], []];
  const sideOf = (p: Share) => (Math.abs(p[axis] - at) < ON_THE_LINE ? 0 : Math.sign(p[axis] - at));
  polygon.forEach((to, i) => {
    const from = polygon[(i + polygon.length - 1) % polygon.length];
    if (sideOf(from) * sideOf(to) < 0) {
      // from the lower end on, so that both neighbours of a side cut it at the same place
      const [low, high] = from[axis] < to[axis] ? [from, to] : [to, from];
      const share = (at - low[axis]) / (high[axis] - low[axis]);
      const other = low[1 - axis] + (high[1 - axis] - low[1 - axis]) * share;
      const crossing: Share = axis === 0 ? [at, other] : [other, at];
      below.push(crossing);
      above.push(crossing);
    }
    if (sideOf(to) <= 0) below.push(to);
    if (sideOf(to) >= 0) above.push(to);
  });
  return [below, above].filter((part) => part.length > 2);
}

function meanOf(polygon: readonly Share[]): Share {
  const sum = polygon.reduce(([x, y], [px, py]) => [x + px, y + py], [0, 0]);
  return [sum[0] / polygon.length, sum[1] / polygon.length];
}

function contains(polygon: readonly Share[], [x, y]: Share): boolean {
  let inside = false;
  for (let i = 0, j = polygon.length - 1; i < polygon.length; j = i++) {
    const [[xi, yi], [xj, yj]] = [polygon[i], polygon[j]];
    if (yi > y !== yj > y && x < ((xj - xi) * (y - yi)) / (yj - yi) + xi) inside = !inside;
  }
  return inside;
}

/**
 * By how much the parts of a card that is bent both ways are longer or shorter than on the flat card, at most, as a share:
 * no sheet bends both ways without.
 */
export function formStretch(form: CardForm, size: CardSize): number {
  const { across: section, up, middle } = CURVES[form.kind](form, size);
  const across = polyline(section, form);
  const [, level] = pointAlong(across, middle, pieceAt(across, middle));
  const away = Math.max(...across.points.map(([, out]) => Math.abs(out - level)));
  return away * Math.max(0, ...up.bends.map(({ curvature }) => (Number.isFinite(curvature) ? curvature : 0)));
}
