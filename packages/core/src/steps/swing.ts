import { fromLabRows, makeLabRows, toLabRows, type LabRows } from '../colour/lab-rows.ts';
import { regionMap } from '../mask/region-map.ts';
import { cosine, sine } from '../math/trigonometry.ts';
import { asWords, makePicture } from '../raster/raster.ts';
import { chance } from '../math/chance.ts';
import type { StepKind } from './step.ts';

export const SWING_OVERS = ['separate parts', 'patches', 'whole piece'] as const;
export type SwingOver = (typeof SWING_OVERS)[number];

export interface SwingParams {
  seed: number;
  over: SwingOver;
  /** Size of a patch, texels. */
  size: number;
  /** Farthest turn of the tint to either side, degrees. */
  tint: number;
  /** Farthest change of OKLab lightness. */
  lightness: number;
  /** Farthest change of chroma, as a share of it. */
  richness: number;
}

/** What a place drifts by: a turn of the tint, lightness added, chroma multiplied. */
interface Drift {
  cos: number;
  sin: number;
  light: number;
  rich: number;
}

/** Random drifts in OKLab of each part of the picture, fixed by the seed. */
export const swing: StepKind<SwingParams> = {
  stretch: 'colour',
  purpose: 'recolour',
  label: 'Swing',
  hint: 'Varies tint, lightness and richness at random: per separate blade or leaf, in patches, or of the whole piece, so that copies differ.',
  // a third of full tint swing reads as too much on one plant: a twentieth (common practice: 7 % lightness, 15 % richness)
  defaults: { seed: 1, over: 'separate parts', size: 128, tint: 12, lightness: 0.07, richness: 0.15 },
  ranges: {
    seed: { min: 1, max: 9999, step: 1, digits: 0 },
    size: { min: 4, max: 2048, digits: 0, unit: 'texels', logarithmic: true },
    tint: { min: 0, max: 180, step: 1, digits: 0, unit: 'degrees' },
    lightness: { min: 0, max: 0.5 },
    richness: { min: 0, max: 1 },
  },
  pullsMask: false,
  apply({ colour, mask }, params, env) {
    const { width, height } = colour;
    const out = env.allocate(colour.data.length);
    const [from, to] = [asWords(colour.data), asWords(out)];
    const rows = makeLabRows(width);
    const turn = turner(params, mask.width, env.scale);
    const regions = params.over === 'separate parts' ? regionMap(mask, env) : null;
    const drifts = Array.from({ length: regions ? regions.count : 1 }, (_, r) => driftOf(params, r));
    env.bands(height, (y0, y1) => {
      for (let y = y0; y < y1; y++) {
        toLabRows(from, y * width, (y + 1) * width, rows);
        if (params.over === 'patches') turn(rows, y);
        else turnByRegion(rows, regions?.regionOf.subarray(y * width, (y + 1) * width) ?? null, drifts);
        fromLabRows(rows, from, to, y * width, (y + 1) * width);
      }
    });
    return { colour: makePicture(width, height, out) };
  },
};

/** −1 … 1 */
const swingOf = (seed: number, index: number) => 2 * chance(seed, index) - 1;

function driftOf({ seed, tint, lightness, richness }: SwingParams, region: number): Drift {
  const degrees = tint * swingOf(seed, 3 * region);
  return {
    cos: cosine(degrees),
    sin: sine(degrees),
    light: lightness * swingOf(seed, 3 * region + 1),
    rich: 1 + richness * swingOf(seed, 3 * region + 2),
  };
}

function turnByRegion({ L, a, b }: LabRows, regionOf: Uint16Array | null, drifts: readonly Drift[]): void {
  let drift = drifts.at(0);
  let last = 0;
  for (let x = 0; x < L.length; x++) {
    const region = regionOf ? regionOf[x] : 0;
    if (region !== last) drift = drifts[(last = region)];
    if (!drift) continue;
    const { cos, sin, light, rich } = drift;
    const [p, q] = [a[x] * rich, b[x] * rich];
    L[x] += light;
    a[x] = cos * p - sin * q;
    b[x] = sin * p + cos * q;
  }
}

/** Value noise: a random drift on each corner of a grid, blended between them by 3t² − 2t³. */
function turner({ seed, size, tint, lightness, richness }: SwingParams, width: number, scale: number) {
  const cell = Math.max(1, size * scale);
  const columns = Math.ceil(width / cell) + 2;
  const smooth = (t: number) => t * t * (3 - 2 * t);
  const corner = (row: number, column: number, k: number) => swingOf(seed, 3 * (row * 4099 + column) + k);
  const line = [new Float64Array(columns), new Float64Array(columns), new Float64Array(columns)];
  const turns = Array.from({ length: 2 * TURN_STEPS + 1 }, (_, i) => (tint * (i - TURN_STEPS)) / TURN_STEPS);
  const [cosines, sines] = [turns.map(cosine), turns.map(sine)];
  return ({ L, a, b }: LabRows, y: number) => {
    const row = Math.floor((y + 0.5) / cell);
    const down = smooth((y + 0.5) / cell - row);
    for (let c = 0; c < columns; c++) {
      for (let k = 0; k < 3; k++) line[k][c] = corner(row, c, k) * (1 - down) + corner(row + 1, c, k) * down;
    }
    for (let x = 0; x < L.length; x++) {
      const column = Math.floor((x + 0.5) / cell);
      const t = smooth((x + 0.5) / cell - column);
      const at = (k: number) => line[k][column] * (1 - t) + line[k][column + 1] * t;
      const turn = Math.round((1 + at(0)) * TURN_STEPS);
      const rich = 1 + richness * at(2);
      const [p, q] = [a[x] * rich, b[x] * rich];
      L[x] += lightness * at(1);
      a[x] = cosines[turn] * p - sines[turn] * q;
      b[x] = sines[turn] * p + cosines[turn] * q;
    }
  };
}

/** Steps of a turn to either side. */
const TURN_STEPS = 256;
