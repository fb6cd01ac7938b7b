import { cosine, sine } from '../math/trigonometry.ts';
import { makeMask } from '../raster/raster.ts';
import type { StepKind } from './step.ts';

export interface PerforateParams {
  pattern: PerforatePattern;
  /** Texels from one dot, line or cell to the next. */
  size: number;
  /** Turn of the pattern. */
  angle: number;
  /** Added to every tone between black and white: above 0 dots are larger, below 0 smaller. */
  gain: number;
}

export const PERFORATE_PATTERNS = ['dots', 'lines', 'hexagons'] as const;
export type PerforatePattern = (typeof PERFORATE_PATTERNS)[number];

/**
 * A binary screen in place of grey: in every cell of the pattern the share of kept texels is the tone. The order in
 * which the places of a cell are kept grows from its middle; ranks are taken from a fine grid of places, so that tone
 * and area agree for every pattern. A tone of 0 keeps nothing, of 1 everything.
 */
export const perforate: StepKind<PerforateParams> = {
  stretch: 'mask',
  purpose: 'cut',
  label: 'Perforate',
  hint: 'Turns grey into dots, lines or hexagons that are kept or dropped whole: light grey is kept more.',
  defaults: { pattern: 'dots', size: 8, angle: 45, gain: 0 },
  ranges: {
    size: { min: 2, max: 256, step: 0.5, digits: 1, unit: 'texels' },
    angle: { min: 0, max: 180, step: 1, digits: 0, unit: 'degrees' },
    gain: { min: -0.5, max: 0.5 },
  },
  pullsMask: false,
  apply({ mask }, { pattern, size, angle, gain }, env) {
    const { width, height, data } = mask;
    const tones = Uint16Array.from({ length: 256 }, (_, v) => toneRank(v, gain));
    const out = env.allocate(data.length);
    const cell = Math.max(2, size * env.scale);
    const screen = { ranks: ranksOf(pattern), tall: pattern === 'hexagons' ? Math.sqrt(3) : 1 };
    const across = { x: cosine(angle) / cell, y: sine(angle) / cell };
    env.bands(height, (y0, y1) => punch(data, tones, screen, across, width, out, y0, y1));
    return { mask: makeMask(width, height, out) };
  },
};

/** Fine places of a cell across and down; ranks run from 1 to GRID². */
const GRID = 128;
const PLACES = GRID * GRID;

function toneRank(alpha: number, gain: number): number {
  const tone = alpha / 255;
  const middle = 4 * tone * (1 - tone); // the ends stay black and white
  return Math.floor(Math.min(1, Math.max(0, tone + gain * middle)) * PLACES + 0.5);
}

const madeRanks = new Map<PerforatePattern, Uint16Array>();

/** Rank of every fine place of a cell; a hexagonal cell is √3 as high as wide and holds two hexagons. */
function ranksOf(pattern: PerforatePattern): Uint16Array {
  const known = madeRanks.get(pattern);
  if (known) return known;
  const far = Float64Array.from({ length: PLACES }, (_, i) =>
    farness(pattern, ((i % GRID) + 0.5) / GRID - 0.5, (Math.floor(i / GRID) + 0.5) / GRID - 0.5),
  );
  const order = Array.from({ length: PLACES }, (_, i) => i).sort((a, b) => far[a] - far[b] || a - b);
  const ranks = new Uint16Array(PLACES);
  order.forEach((place, rank) => (ranks[place] = rank + 1));
  madeRanks.set(pattern, ranks);
  return ranks;
}

/** How far a place (each way −½ … ½ of the cell) lies from what is kept first. */
function farness(pattern: PerforatePattern, u: number, v: number): number {
  if (pattern === 'lines') return Math.abs(v);
  if (pattern === 'dots') return u * u + v * v;
  const y = v * Math.sqrt(3);
  const toMiddle = hexagonal(u, y);
  const toCorner = hexagonal(Math.abs(u) - 0.5, Math.abs(y) - Math.sqrt(3) / 2);
  return Math.min(toMiddle, toCorner);
}

/** Half the width across flats of the hexagon around the origin that passes through (x, y). */
function hexagonal(x: number, y: number): number {
  const a = Math.abs(x);
  return Math.max(a, a / 2 + (Math.abs(y) * Math.sqrt(3)) / 2);
}

function punch(
  data: Uint8Array,
  tones: Uint16Array,
  { ranks, tall }: { ranks: Uint16Array; tall: number },
  across: { x: number; y: number },
  width: number,
  out: Uint8Array,
  y0: number,
  y1: number,
): void {
  for (let y = y0; y < y1; y++) {
    for (let x = 0, i = y * width; x < width; x++, i++) {
      const u = (x + 0.5) * across.x + (y + 0.5) * across.y;
      const v = ((y + 0.5) * across.x - (x + 0.5) * across.y) / tall;
      const column = ((u - Math.floor(u)) * GRID) | 0;
      const row = ((v - Math.floor(v)) * GRID) | 0;
      out[i] = ranks[row * GRID + column] <= tones[data[i]] ? 255 : 0;
    }
  }
}
