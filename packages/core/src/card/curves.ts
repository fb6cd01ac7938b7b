import { cosine, sine } from '../math/trigonometry.ts';
import type { CardForm } from './form.ts';

/** Part of a curve, in lengths along it, that bends to one side. */
export interface Bend {
  from: number;
  to: number;
  /** Degrees, not negative. */
  turn: number;
  /** 1 / radius where it is narrowest. */
  curvature: number;
}

/**
 * A curve in a plane by the direction that it has at every length along it: nothing that is laid along it can stretch. The
 * first number of a direction is how far it goes on, the second how far it rises.
 */
export interface Curve {
  length: number;
  direction(at: number): readonly [on: number, up: number];
  bends: readonly Bend[];
}

export const degreesToward = (degrees: number): [number, number] => [cosine(degrees), sine(degrees)];

export const straight = (length: number, lean = 0): Curve => {
  const way = degreesToward(lean);
  return { length, direction: () => way, bends: [] };
};

/**
 * Turns by so many degrees over its length, on top of where it begins; `curl` moves the turn to its start or end (a
 * clothoid: the curvature changes evenly).
 */
export function turning(length: number, degrees: number, { curl = 0, begin = 0 } = {}): Curve {
  if (degrees === 0) return straight(length, begin);
  const curvature = ((Math.abs(degrees) / length) * Math.PI * (1 + Math.abs(curl))) / 180;
  return {
    length,
    direction(at) {
      const share = at / length;
      return degreesToward(begin + degrees * (share + curl * (share * share - share)));
    },
    bends: [{ from: 0, to: length, turn: Math.abs(degrees), curvature }],
  };
}

/** Straight, then an arc of so many degrees from `from` on, then straight again. An arc without length is an edge. */
export function around(length: number, from: number, arc: number, degrees: number, begin = 0): Curve {
  return {
    length,
    direction(at) {
      const share = arc > 0 ? Math.min(1, Math.max(0, (at - from) / arc)) : Number(at > from);
      return degreesToward(begin + degrees * share);
    },
    bends: [
      {
        from,
        to: from + arc,
        turn: Math.abs(degrees),
        curvature: arc > 0 ? (Math.abs(degrees) * Math.PI) / (180 * arc) : Infinity,
      },
    ],
  };
}

/**
 * A chain between two supports of the same height, lowest in its middle: y = a · cosh(x / a), along which the length from
 * the middle is s = a · tan ψ (J. Bernoulli, 1691).
 *
 * @param sag - Of its middle, as a share of the length; below one half.
 */
export function catenary(length: number, sag: number): Curve {
  const half = length / 2;
  const depth = sag * length;
  const a = (half * half - depth * depth) / (2 * depth);
  const turn = (2 * Math.atan(half / a) * 180) / Math.PI;
  return {
    length,
    direction(at) {
      const s = at - half;
      const whole = Math.sqrt(a * a + s * s);
      return [a / whole, s / whole];
    },
    bends: [{ from: 0, to: length, turn, curvature: 1 / a }],
  };
}

/** A curve of straight pieces as long as the curve along them: lengths stay to the last bit that adding keeps. */
export interface Polyline {
  /** Lengths along the card at which the pieces meet, both ends included. */
  stops: number[];
  /** Where each of them is. */
  points: (readonly [on: number, up: number])[];
  curve: Curve;
}

/** Degrees that one piece may turn by, however loose the tolerance is. */
const MOST_TURN = 30;
export const MOST_SEGMENTS = 48;

/** @param form - How many pieces, or how near to the curve; millimetres, where lengths are metres. */
export function polyline(curve: Curve, { segments, tolerance }: Pick<CardForm, 'segments' | 'tolerance'>): Polyline {
  const { length, bends } = curve;
  const whole = bends.reduce((sum, { turn }) => sum + turn, 0);
  const stops = new Set([0, length]);
  for (const { from, to, turn, curvature } of bends) {
    // a chord of length h leaves an arc of radius r by h² / 8r
    const free = Math.max(Math.ceil(turn / MOST_TURN), Math.ceil((to - from) * Math.sqrt((curvature * 1000) / (8 * tolerance)) || 0)); // prettier-ignore
    const pieces = Math.min(MOST_SEGMENTS, segments > 0 ? Math.max(1, Math.round((segments * turn) / whole)) : free);
    for (let i = 0; i <= pieces; i++) {
      const at = from + ((to - from) * i) / pieces;
      if (at > 0 && at < length) stops.add(at);
    }
  }
  const sorted = [...stops].sort((a, b) => a - b);
  const points: [number, number][] = [[0, 0]];
  for (let i = 1; i < sorted.length; i++) {
    const [on, up] = curve.direction((sorted[i - 1] + sorted[i]) / 2);
    const step = sorted[i] - sorted[i - 1];
    const [x, y] = points[i - 1];
    points.push([x + on * step, y + up * step]);
  }
  return { stops: sorted, points, curve };
}

/** The point of a polyline at a length along it. @param piece - On which of its pieces. */
export function pointAlong({ stops, points }: Polyline, at: number, piece: number): [on: number, up: number] {
  const share = (at - stops[piece]) / (stops[piece + 1] - stops[piece]);
  const [a, b] = [points[piece], points[piece + 1]];
  return [a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share];
}

/** The direction of the curve itself there, as the given piece sees it: at an edge each side has its own. */
export function directionAlong({ stops, curve }: Polyline, at: number, piece: number): readonly [number, number] {
  const inset = 1e-6 * (stops[piece + 1] - stops[piece]);
  return curve.direction(Math.min(stops[piece + 1] - inset, Math.max(stops[piece] + inset, at)));
}

/** The piece that a length lies on. */
export function pieceAt({ stops }: Polyline, at: number): number {
  let piece = 0;
  while (piece < stops.length - 2 && at > stops[piece + 1]) piece++;
  return piece;
}
