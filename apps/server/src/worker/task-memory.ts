import {
  declaredSize,
  holds,
  holdsLevels,
  mapKind,
  profileOf,
  ROWS_FROM_TEXELS,
  stepKind,
  type PieceDoc,
} from '@lithe-sieve/core';
import type { Task } from './tasks.ts';

const MB = 1024 * 1024;
/** Of a task that holds nothing large. */
const SMALL = 48 * MB;
/** Of a whole run, besides its sources: mask and colour, what a step makes beside them, what is written. */
const RUN_BYTES_PER_TEXEL = 20;
/** Of holding a mask at distance: its levels; where sides do not halve evenly, level 0 too; else planes for a wider filter. */
const HOLD_BYTES_PER_TEXEL = { even: 6, odd: 34, wider: 6 };
/** Of blurred values, distances, horizons. */
const MAP_WORK_BYTES_PER_TEXEL = 16;
/** Of a texture with its mip levels: as they are wanted, as they are read out of their blocks, and what is between. */
const LEVELS_BYTES_PER_TEXEL = 20;

/** About the peak memory of a task, by what its files claim. @throws SieveError for a file that is none. */
export function memoryOf(task: Task): number {
  switch (task.kind) {
    case 'inspect':
      return decodingBytes(task.bytes);
    case 'hand-off': {
      const sizes = task.sources.map(({ bytes }) => declaredSize(bytes));
      const largest = Math.max(0, ...sizes.map((s) => s.width * s.height));
      const pictures = sizes.reduce((sum, s) => sum + 4 * s.width * s.height, 0);
      const { material, levels, handOff } = task.doc;
      const perTexel =
        RUN_BYTES_PER_TEXEL +
        mapBytes(task.doc) +
        (holds(material, levels) ? holdBytes(sizes[0], levels.averages !== 'box') : 0) +
        (holdsLevels(profileOf(handOff.profile)) ? LEVELS_BYTES_PER_TEXEL : 0);
      return SMALL + pictures + perTexel * largest;
    }
    case 'draw-demo':
      return 4 * SMALL;
    default:
      return SMALL;
  }
}

/** Every step that makes a map hands one on; the largest needs planes of its own while it works. */
function mapBytes({ run }: PieceDoc): number {
  const made = run.flatMap((step) => (step.on ? (stepKind(step.kind).makes ?? []) : []));
  const bytes = made.reduce((sum, map) => sum + (mapKind(map).channels * mapKind(map).depth) / 8, 0);
  return bytes > 0 ? bytes + MAP_WORK_BYTES_PER_TEXEL : 0;
}

function holdBytes({ width, height } = { width: 2, height: 2 }, wider: boolean): number {
  const { even, odd, wider: planes } = HOLD_BYTES_PER_TEXEL;
  return width % 2 === 0 && height % 2 === 0 ? even + (wider ? planes : 0) : odd;
}

/** Of a picture read by its rows a few lines; of one read whole, itself and what it is decoded through. */
function decodingBytes(file: Uint8Array): number {
  const { width, height, bytesPerTexel, byRows } = declaredSize(file);
  return byRows && width * height >= ROWS_FROM_TEXELS ? SMALL : SMALL + 2 * bytesPerTexel * width * height;
}
