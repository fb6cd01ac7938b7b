import {
  declaredSize,
  holds,
  holdsLevels,
  LIMITS,
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
/** Of a recipe: colour, height, normal, translucency, tint id and root to tip. */
const GROWN_BYTES_PER_TEXEL = 15;
/** Of a part of one: read, and with its mip levels. */
const PART_BYTES_PER_TEXEL = 10;
/** The same with its maps, whose file is read beside it. */
const RELIEF_BYTES_PER_TEXEL = 32;
/** Of a texture that is laid: floats between its two axes. */
const LAID_BYTES_PER_TEXEL = 16;
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
      const sizes = task.sources.map(({ bytes, recipe }) => recipe ?? declaredSize(bytes));
      const largest = Math.max(0, ...sizes.map((s) => s.width * s.height));
      const perSource = task.sources.map(({ recipe }) => (recipe ? GROWN_BYTES_PER_TEXEL : 4));
      const pictures = sizes.reduce((sum, s, i) => sum + perSource[i] * s.width * s.height, 0);
      const { material, levels, handOff } = task.doc;
      const perTexel =
        RUN_BYTES_PER_TEXEL +
        mapBytes(task.doc) +
        (holds(material, levels) ? holdBytes(sizes[0], levels.averages !== 'box') : 0) +
        (holdsLevels(profileOf(handOff.profile)) ? LEVELS_BYTES_PER_TEXEL : 0);
      const laid = fittedTexels(task.doc, largest);
      return (
        SMALL +
        partBytes(task.doc) +
        pictures +
        perTexel * largest +
        (laid > 0 ? (LAID_BYTES_PER_TEXEL + perTexel) * laid : 0)
      );
    }
    case 'summarise':
      return SMALL + partBytes(task.doc);
    case 'draw-demo':
      return 4 * SMALL;
    default:
      return SMALL;
  }
}

function partBytes({ sources }: PieceDoc): number {
  const parts = sources.flatMap((s) => s.recipe?.parts ?? []);
  return parts.reduce(
    (sum, p) => sum + (p.relief ? RELIEF_BYTES_PER_TEXEL : PART_BYTES_PER_TEXEL) * p.width * p.height,
    0,
  );
}

/** Texels of the largest texture that the fit may come to, at most what it refuses beyond; 0 without a fit. */
function fittedTexels({ run, cardWidth }: PieceDoc, texels: number): number {
  let now = texels;
  let largest = 0;
  for (const step of run) {
    if (!step.on || stepKind(step.kind).stretch !== 'fit') continue;
    if (step.kind === 'resize') {
      const { by, factor, side, density } = step.params;
      const longer = by === 'longer side' ? side : density * cardWidth * TALL;
      now = by === 'factor' ? now * factor * factor : longer * longer;
    } else if (step.kind === 'turn-to-fit') now = step.params.size > 0 ? step.params.size ** 2 : 2 * now;
    else if (step.kind === 'pad') {
      const { left, right, top, bottom } = step.params;
      now += (left + right + top + bottom) * Math.sqrt(TALL * now) + (left + right) * (top + bottom);
    }
    largest = Math.max(largest, now);
  }
  return Math.min(LIMITS.texels, largest);
}

/** A card may be so many times taller than it is wide before this falls short. */
const TALL = 4;

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
