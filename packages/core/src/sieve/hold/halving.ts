import { filterTaps, type MipFilter } from '../mip-filters.ts';
import { halve, spread, tapsOutwards, type Plane } from './planes.ts';
import { isEven } from './reach.ts';

/** One level to the next by a filter, and back. */
export interface Halving {
  halve(from: Int32Array, out: Plane): void;
  /** Asks of the texels of every mean for what makes up for what it lacks. */
  spread(level: Plane, out: Plane): void;
}

interface Size {
  width: number;
  height: number;
}

export function halvingOf(filter: MipFilter, from: Size, to: Size): Halving {
  return isEven(from, to) ? evenHalving(filter) : unevenHalving(filter, from, to);
}

function evenHalving(filter: MipFilter): Halving {
  const taps = tapsOutwards(filter);
  const scale = 1 / taps.reduce((sum, w) => sum + 2 * w * w, 0) ** 2; // makes up for one mean that lacks something
  return {
    halve: (from, out) => halve(from, taps, 0, out),
    spread: (level, out) => spread(level, taps, scale, out),
  };
}

/** Every mean has weights of its own, and shares texels with those beside it: what is asked for makes up for all that lack the same. */
function unevenHalving(filter: MipFilter, from: Size, to: Size): Halving {
  const across = filterTaps(filter, from.width, to.width, 'clamp');
  const down = filterTaps(filter, from.height, to.height, 'clamp');
  const scale = (from.width / to.width) * (from.height / to.height);
  const row = new Float64Array(from.width);
  return {
    halve(data, out) {
      for (let y = 0, o = 0; y < to.height; y++) {
        row.fill(0);
        for (let k = y * down.count, end = k + down.count; k < end; k++) {
          if (down.weight[k] !== 0) addRow(data, down.index[k] * from.width, down.weight[k], row);
        }
        for (let x = 0, k = 0; x < to.width; x++, o++) {
          let sum = 0.5;
          for (const end = k + across.count; k < end; k++) sum += across.weight[k] * row[across.index[k]];
          out.data[o] = Math.floor(sum);
        }
      }
    },
    spread(level, out) {
      for (let y = 0, o = 0; y < to.height; y++) {
        row.fill(0);
        let any = false;
        for (let x = 0; x < to.width; x++, o++) {
          const value = scale * level.data[o];
          if (value === 0) continue;
          any = true;
          for (let k = x * across.count, end = k + across.count; k < end; k++) {
            row[across.index[k]] += value * across.weight[k];
          }
        }
        if (!any) continue;
        for (let k = y * down.count, end = k + down.count; k < end; k++) {
          if (down.weight[k] !== 0) addTo(row, down.weight[k], out.data, down.index[k] * from.width);
        }
      }
    },
  };
}

function addRow(from: Int32Array, at: number, weight: number, row: Float64Array): void {
  for (let x = 0; x < row.length; x++) row[x] += weight * from[at + x];
}

function addTo(row: Float64Array, weight: number, out: Int32Array, at: number): void {
  for (let x = 0; x < row.length; x++) out[at + x] += weight * row[x];
}
