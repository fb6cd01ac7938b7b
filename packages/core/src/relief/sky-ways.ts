import { cosine, sine } from '../math/trigonometry.ts';

/** How finely the sky is looked at. */
export interface Sight {
  /** Directions that are looked along, a multiple of 8. */
  directions: number;
  /** Distances in texels, at most 6, at which the bilinear surface is looked at too, wherever in a square of texels that is. */
  inside: readonly number[];
}

/**
 * Between 24 directions a slot of 3 texels or a wall at any angle is at most 0.05 off. Of a bilinear surface the middle of
 * a square may rise more than its sides show: by up to 0.13 of the sky beside the steps of an oblique wall.
 */
export const SIGHT: Sight = { directions: 24, inside: [1, 1.5, 2] };
/** What version 2 of the step saw. */
export const EARLIER_SIGHT: Sight = { directions: 16, inside: [] };

/** A direction that looks back at rows passed, up to the left or (way −1) up to the right. */
export interface Way {
  /** Whether it runs more along the columns than along the rows: its lines go by rows, those of others by columns. */
  steep: boolean;
  way: 1 | -1;
  /** How far it moves aside for each row or column. */
  lean: number;
  /** Length of its line from one row or column to the next, in either. */
  length: number;
  /** Lines of cells that are under way at a time. */
  ring: number;
}

export function waysOf({ directions }: Sight, cells: number): Way[] {
  const ways: Way[] = [];
  for (let k = 0; k < directions / 4; k++) {
    const angle = ((k + 0.5) * 360) / directions;
    const steep = angle < 45;
    const [along, aside] = steep ? [cosine(angle), sine(angle)] : [sine(angle), cosine(angle)];
    const lean = aside / along;
    const ring = steep ? cells : Math.round(lean * (cells - 1)) + 1;
    for (const way of [1, -1] as const) ways.push({ steep, way, lean, length: 1 / along, ring });
  }
  return ways;
}

/** Bytes of a place between two texels in the table of nearRow, and of one between four in that of withinRow. */
export const PLACE = 24;
export const INNER_PLACE = 48;

/** What lies near along a way where it crosses rows or columns: two texels each, the nearer one first. */
export function fillPlaces(
  { steep, lean, way, length }: Way,
  count: number,
  whole: Uint32Array,
  real: Float32Array,
): void {
  for (let n = 1, o = 0; n <= count; n++, o += PLACE / 4) {
    const [near, other] = aroundBoth(lean * n);
    for (const [k, m] of [near, other].entries()) {
      whole[o + 2 * k] = 4 * (steep ? n : m);
      whole[o + 2 * k + 1] = -4 * way * (steep ? m : n);
    }
    real[o + 4] = Math.abs(lean * n - near);
    real[o + 5] = 1 / (n * length);
  }
}

/** What lies at some distances along a way: four texels each, the nearest one first. */
export function fillInnerPlaces(
  { steep, lean, way, length }: Way,
  distances: readonly number[],
  whole: Uint32Array,
  real: Float32Array,
): void {
  for (const [n, distance] of distances.entries()) {
    const o = (n * INNER_PLACE) / 4;
    const along = distance / length;
    const [across, back] = steep ? [lean * along, along] : [along, lean * along];
    const [columns, rows] = [aroundBoth(across), aroundBoth(back)];
    for (let corner = 0; corner < 4; corner++) {
      whole[o + 2 * corner] = 4 * rows[corner >> 1];
      whole[o + 2 * corner + 1] = -4 * way * columns[corner & 1];
    }
    real[o + 8] = Math.abs(across - columns[0]);
    real[o + 9] = Math.abs(back - rows[0]);
    real[o + 10] = 1 / distance;
  }
}

/** The whole numbers on either side of a place, the nearer one first. */
function aroundBoth(place: number): [near: number, other: number] {
  const near = Math.round(place);
  return [near, place > near ? near + 1 : near - 1];
}
