import type { CurvePoint } from '../math/curve.ts';
import { asWords, makePicture } from '../raster/raster.ts';
import { levelsTable } from './levels.ts';
import type { StepKind } from './step.ts';

export const LEVELLED = ['all three', 'red', 'green', 'blue'] as const;
export type Levelled = (typeof LEVELLED)[number];

export interface ColourLevelsParams {
  channel: Levelled;
  /** Encoded value, 0–1, that becomes 0; at or above it comes the one that becomes 1. */
  black: number;
  white: number;
  /** Above 1 lightens the middle. */
  gamma: number;
  /** Then a curve through these points; none is a straight line. */
  curve: CurvePoint[];
}

export const colourLevels: StepKind<ColourLevelsParams> = {
  stretch: 'colour',
  purpose: 'recolour',
  label: 'Levels and curves',
  hint: 'Sets black point, white point and a curve of the colour, of all channels or of one.',
  defaults: { channel: 'all three', black: 0, white: 1, gamma: 1, curve: [] },
  ranges: {
    black: { min: 0, max: 1 },
    white: { min: 0, max: 1 },
    gamma: { min: 0.1, max: 10, logarithmic: true },
  },
  pullsMask: false,
  apply({ colour }, { channel, ...params }, env) {
    const { width, height } = colour;
    const table = levelsTable({ ...params, ramp: 'soft' });
    const as = (name: Levelled) =>
      channel === 'all three' || channel === name ? table : Uint8Array.from({ length: 256 }, (_, v) => v);
    const tables = [as('red'), as('green'), as('blue')] as const;
    const out = env.allocate(colour.data.length);
    const [from, to] = [asWords(colour.data), asWords(out)];
    env.bands(height, (y0, y1) => lookUp(from, to, tables, y0 * width, y1 * width));
    return { colour: makePicture(width, height, out) };
  },
};

function lookUp(
  from: Uint32Array,
  to: Uint32Array,
  [red, green, blue]: readonly [Uint8Array, Uint8Array, Uint8Array],
  start: number,
  end: number,
): void {
  for (let i = start; i < end; i++) {
    const w = from[i];
    to[i] = (w & 0xff000000) | (blue[(w >>> 16) & 255] << 16) | (green[(w >>> 8) & 255] << 8) | red[w & 255];
  }
}
