import { SieveError } from '../errors.ts';
import type { Picture } from '../raster/raster.ts';

/** Terms of a cubic surface: 1, x, y, x², xy, y², x³, x²y, xy², y³ with x and y running from −1 to 1. */
const TERMS = 10;
const QUADRATIC_TERMS = 6;

/** A plain backdrop as a smooth surface: its colour at every place, lit as unevenly as it is. */
export interface Backdrop {
  readonly width: number;
  readonly height: number;
  /** Ten coefficients for red, then green, then blue; encoded values 0–1. */
  readonly surface: Float64Array;
  /** Typical distance of the backdrop's texels from the surface: grain and dust. */
  readonly grain: number;
  /** Share of the border that follows the surface. */
  readonly share: number;
}

const GRID = 144;
const FRAME = 0.03; // of the shorter side: where a fit starts
const ROUNDS = 8;
const LEAST_REACH = 0.012;
const FRAME_REACH = 0.09;
const REACH_IN_GRAINS = 3.5;
/** Below this share of the border the picture has no plain backdrop. */
const LEAST_SHARE = 0.4;

interface Samples {
  count: number;
  terms: Float64Array;
  colours: Float64Array;
  onFrame: Uint8Array;
}

/**
 * Fits the surface by least squares, first a quadratic one to the frame of the picture, then wider: what lies near the
 * surface so far is taken into the next fit, everything else (the subject, its shadow) left out.
 *
 * @throws {@link SieveError} `unsupported` where most of the border does not follow one surface.
 */
export function fitBackdrop(picture: Picture): Backdrop {
  const known = fitted.get(picture.data);
  if (known) return known;
  const made = fit(picture);
  fitted.set(picture.data, made);
  return made;
}

/** A drag of the tolerance asks for the same surface again and again. */
const fitted = new WeakMap<Uint8Array, Backdrop>();

function fit(picture: Picture): Backdrop {
  const samples = sample(picture);
  let surface = medianSurface(samples);
  let reach = 0.3;
  let grain = 0.02;
  for (let round = 0; round < ROUNDS; round++) {
    const wide = round >= ROUNDS / 2; // the inside joins when the frame is known
    const taken = Uint8Array.from({ length: samples.count }, (_, i) =>
      (wide || samples.onFrame[i]) && residual(samples, surface, i) < reach ? 1 : 0,
    );
    surface = solveSurface(samples, taken, wide ? TERMS : QUADRATIC_TERMS) ?? surface;
    grain = medianResidual(samples, surface, taken);
    reach = Math.max(LEAST_REACH, Math.min(reach * 0.6, REACH_IN_GRAINS * grain));
  }
  const share = shareOfFrame(samples, surface, Math.max(reach, FRAME_REACH));
  if (share < LEAST_SHARE) {
    throw new SieveError(
      'unsupported',
      `Only ${Math.round(100 * share)} % of the border looks like one backdrop.`,
      'Use “From colour”, “From touch” or “From scribbles” for a picture without a plain backdrop.',
    );
  }
  return { width: picture.width, height: picture.height, surface, grain, share };
}

function sample({ width, height, data }: Picture): Samples {
  const nx = Math.min(GRID, width);
  const ny = Math.min(GRID, height);
  const count = nx * ny;
  const terms = new Float64Array(count * TERMS);
  const colours = new Float64Array(count * 3);
  const onFrame = new Uint8Array(count);
  const frame = Math.max(1, FRAME * Math.min(width, height));
  for (let j = 0, i = 0; j < ny; j++) {
    for (let k = 0; k < nx; k++, i++) {
      const x = Math.floor(((k + 0.5) * width) / nx);
      const y = Math.floor(((j + 0.5) * height) / ny);
      termsAt((2 * (x + 0.5)) / width - 1, (2 * (y + 0.5)) / height - 1, terms, TERMS * i);
      for (let c = 0; c < 3; c++) colours[3 * i + c] = meanAround(data, width, height, x, y, c);
      onFrame[i] = x < frame || y < frame || x >= width - frame || y >= height - frame ? 1 : 0;
    }
  }
  return { count, terms, colours, onFrame };
}

/** Mean of a cross of texels: one alone is grain. */
function meanAround(data: Uint8Array, width: number, height: number, x: number, y: number, c: number): number {
  const left = x > 0 ? x - 1 : x;
  const right = x + 1 < width ? x + 1 : x;
  const up = y > 0 ? y - 1 : y;
  const down = y + 1 < height ? y + 1 : y;
  const at = (u: number, v: number) => data[4 * (v * width + u) + c];
  return (at(x, y) + at(left, y) + at(right, y) + at(x, up) + at(x, down)) / (5 * 255);
}

function termsAt(x: number, y: number, out: Float64Array, at: number): void {
  const all = [1, x, y, x * x, x * y, y * y, x * x * x, x * x * y, x * y * y, y * y * y];
  for (let t = 0; t < TERMS; t++) out[at + t] = all[t];
}

/** A flat surface of the frame's middle colour. */
function medianSurface({ count, colours, onFrame }: Samples): Float64Array {
  const surface = new Float64Array(3 * TERMS);
  for (let c = 0; c < 3; c++) {
    const values: number[] = [];
    for (let i = 0; i < count; i++) if (onFrame[i]) values.push(colours[3 * i + c]);
    values.sort((a, b) => a - b);
    surface[c * TERMS] = values[values.length >> 1];
  }
  return surface;
}

function residual({ terms, colours }: Samples, surface: Float64Array, i: number): number {
  let sum = 0;
  for (let c = 0; c < 3; c++) {
    let value = -colours[3 * i + c];
    for (let t = 0; t < TERMS; t++) value += surface[c * TERMS + t] * terms[TERMS * i + t];
    sum += value * value;
  }
  return Math.sqrt(sum);
}

function medianResidual(samples: Samples, surface: Float64Array, taken: Uint8Array): number {
  const all: number[] = [];
  for (let i = 0; i < samples.count; i++) if (taken[i]) all.push(residual(samples, surface, i));
  all.sort((a, b) => a - b);
  return all.length > 0 ? all[all.length >> 1] : 0;
}

function shareOfFrame(samples: Samples, surface: Float64Array, reach: number): number {
  let near = 0;
  let all = 0;
  for (let i = 0; i < samples.count; i++) {
    if (!samples.onFrame[i]) continue;
    all++;
    if (residual(samples, surface, i) < reach) near++;
  }
  return near / Math.max(1, all);
}

/** Normal equations by Gaussian elimination; null where there are too few samples to tell. */
function solveSurface({ count, terms, colours }: Samples, taken: Uint8Array, n: number): Float64Array | null {
  const width = n + 3;
  const m = new Float64Array(n * width);
  let used = 0;
  for (let i = 0; i < count; i++) {
    if (!taken[i]) continue;
    used++;
    for (let a = 0; a < n; a++) {
      const weight = terms[TERMS * i + a];
      for (let b = 0; b < n; b++) m[a * width + b] += weight * terms[TERMS * i + b];
      for (let c = 0; c < 3; c++) m[a * width + n + c] += weight * colours[3 * i + c];
    }
  }
  if (used < 4 * n) return null;
  for (let a = 0; a < n; a++) m[a * width + a] += 1e-9 * used; // a frame alone cannot tell every term apart
  for (let p = 0; p < n; p++) {
    for (let a = 0; a < n; a++) {
      if (a === p) continue;
      const factor = m[a * width + p] / m[p * width + p];
      for (let b = p; b < width; b++) m[a * width + b] -= factor * m[p * width + b];
    }
  }
  const surface = new Float64Array(3 * TERMS);
  for (let c = 0; c < 3; c++)
    for (let a = 0; a < n; a++) surface[c * TERMS + a] = m[a * width + n + c] / m[a * width + a];
  return surface;
}

/**
 * The surface along one row, as a cubic in x for each channel.
 *
 * @param out - Receives four coefficients for red, green and blue: constant, x, x², x³.
 */
export function backdropRow({ height, surface }: Backdrop, y: number, out: Float64Array): void {
  const v = (2 * (y + 0.5)) / height - 1;
  for (let c = 0; c < 3; c++) {
    const s = c * TERMS;
    out[4 * c] = surface[s] + v * (surface[s + 2] + v * (surface[s + 5] + v * surface[s + 9]));
    out[4 * c + 1] = surface[s + 1] + v * (surface[s + 4] + v * surface[s + 8]);
    out[4 * c + 2] = surface[s + 3] + v * surface[s + 7];
    out[4 * c + 3] = surface[s + 6];
  }
}
