import { SieveError } from '../../errors.ts';
import { footprintOf, type Footprint, type Outline } from './outline.ts';
import { Room } from './room.ts';

export const ATLAS_TURNINGS = ['any angle', 'quarter turns', 'not at all'] as const;
export type AtlasTurning = (typeof ATLAS_TURNINGS)[number];

/** What is to be packed. */
export interface Packed {
  outline: Outline;
  /** Height against those of the others. */
  tall: number;
  /** Parts of one group come after each other, so that they lie side by side; by number. */
  group: number;
  /** Where it stays: shares of the atlas's width, degrees clockwise, height. */
  kept?: Place | undefined;
}

/** Where a part lies: its middle and its height as shares of the atlas's width, its turn in degrees clockwise. */
export interface Place {
  x: number;
  y: number;
  turn: number;
  tall: number;
}

export interface PackHow {
  /** Height over width. */
  ratio: number;
  turning: AtlasTurning;
  /** Between any two parts, as a share of the width; half of it to the border. */
  gutter: number;
  checkpoint: () => void;
}

/** Cells across, to find about how large parts can be, and then where they lie. */
const COARSE = 160;
const FINE = 384;
/** Rows of cells, however tall the atlas is beside its width: beyond, cells are larger. */
const MOST_ROWS = 4096;
const FEWEST = 8;
const COARSE_TRIES = 6;
const FINE_TRIES = 4;
/** Until the first find: in a narrow atlas parts are a thousandth of what its area holds. */
const MOST_TRIES = 16;
const ANGLES: Record<AtlasTurning, readonly number[]> = {
  'any angle': Array.from({ length: 12 }, (_, k) => 30 * k),
  'quarter turns': [0, 90, 180, 270],
  'not at all': [0],
};

/**
 * Lays parts side by side by their outlines, as large as they all have room: the largest first, each at the uppermost
 * place that is free, in the turn that ends there soonest. What is kept stays, and the others become as large against it
 * as they are meant to be.
 *
 * @throws {@link SieveError} `out-of-range` where there is none for what is new beside what is kept.
 */
export function pack(parts: readonly Packed[], how: PackHow): Place[] {
  if (parts.length === 0) return [];
  if (how.gutter >= 1) throw noRoom();
  const kept = parts.find((p) => p.kept);
  if (kept) {
    const size = kept.kept!.tall / kept.tall;
    const found = packAt(parts, size, FINE, how);
    if (found) return found;
    throw new SieveError(
      'out-of-range',
      'There is no room for the new parts beside those that keep their places.',
      'Pack all of them again, or make the atlas larger.',
    );
  }
  const area = parts.reduce((sum, { outline, tall }) => sum + outline.area * tall * tall, 0);
  const longest = Math.max(...parts.map(({ outline, tall }) => tall * Math.max(1, outline.ratio)));
  const bound = Math.min(Math.sqrt(how.ratio / area), Math.hypot(1, how.ratio) / longest);
  let most = bound;
  let least = 0;
  let found: Place[] | null = null;
  const narrow = (tries: number, cells: number) => {
    for (let k = 0; k < tries || (!found && k < MOST_TRIES); k++) {
      const size = found ? (least + most) / 2 : most * (k < tries ? 0.7 : 0.35);
      const places = packAt(parts, size, cells, how);
      if (places) [least, found] = [size, places];
      else most = size;
    }
  };
  narrow(COARSE_TRIES, COARSE);
  // finer cells lose less along the outlines
  most = Math.min(bound, Math.max(most, least * 1.12));
  narrow(FINE_TRIES, FINE);
  if (found) return found;
  throw noRoom();
}

function noRoom(): SieveError {
  return new SieveError(
    'out-of-range',
    'These parts find no room in the atlas.',
    'Make the gutter narrower, or the atlas larger.',
  );
}

/** @returns null where they do not all find room. */
function packAt(parts: readonly Packed[], size: number, finest: number, how: PackHow): Place[] | null {
  const cells = Math.max(FEWEST, Math.min(finest, Math.floor(MOST_ROWS / how.ratio)));
  const rows = Math.max(1, Math.floor(cells * how.ratio));
  const room = new Room(cells, rows);
  const reach = (how.gutter / 2) * cells;
  const out = new Array<Place>(parts.length);
  for (const [i, { outline, kept }] of parts.entries()) {
    if (!kept) continue;
    const print = footprintOf(outline, kept.tall * cells, kept.turn, reach);
    room.take(print, Math.round(kept.x * cells - print.middleX), Math.round(kept.y * cells - print.middleY));
    out[i] = kept;
  }
  for (const i of largestFirst(parts)) {
    const { outline, tall } = parts[i];
    const cellsTall = size * tall * cells;
    let best: { at: number; end: number; turn: number; print: Footprint } | null = null;
    for (const turn of ANGLES[how.turning]) {
      how.checkpoint();
      const print = footprintOf(outline, cellsTall, turn, reach);
      if (print.width === 0) continue;
      const before: number = best ? best.end - print.height : rows;
      const at = room.find(print, before);
      if (at >= 0) best = { at, end: Math.floor(at / cells) + print.height, turn, print };
    }
    if (!best) return null;
    const [left, top] = [best.at % cells, Math.floor(best.at / cells)];
    room.take(best.print, left, top);
    const { middleX, middleY } = best.print;
    out[i] = { x: (left + middleX) / cells, y: (top + middleY) / cells, turn: best.turn, tall: size * tall };
  }
  return out;
}

function largestFirst(parts: readonly Packed[]): number[] {
  const sizeOf = (i: number) => parts[i].outline.area * parts[i].tall ** 2;
  const order = parts.map((_, i) => i).filter((i) => !parts[i].kept);
  const groups = new Map<number, number>();
  for (const i of order) groups.set(parts[i].group, Math.max(groups.get(parts[i].group) ?? 0, sizeOf(i)));
  const groupSize = (i: number) => groups.get(parts[i].group)!;
  return order.sort(
    (i, k) => groupSize(k) - groupSize(i) || parts[i].group - parts[k].group || sizeOf(k) - sizeOf(i) || i - k,
  );
}

/** Share of the atlas that is covered. */
export function usedArea(parts: readonly Packed[], places: readonly Place[], ratio: number): number {
  return places.reduce((sum, { tall }, i) => sum + parts[i].outline.area * tall * tall, 0) / ratio;
}
