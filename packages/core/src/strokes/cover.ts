/**
 * Share of a texel that lies on the inner side of a straight edge.
 *
 * @param inside - How far the texel's centre lies inside, in texels; below 0 it lies outside.
 * @param nx - Direction across the edge, of any length; both 0 count as straight across.
 */
export function coverOf(inside: number, nx: number, ny: number): number {
  const length = Math.sqrt(nx * nx + ny * ny);
  const a = length > 0 ? Math.abs(nx) / length : 1;
  const b = length > 0 ? Math.abs(ny) / length : 0;
  const half = (a + b) / 2;
  if (inside >= half) return 1;
  if (inside <= -half) return 0;
  const wide = a > b ? a : b;
  const slim = a > b ? b : a;
  const far = inside < 0 ? -inside : inside;
  if (far <= (wide - slim) / 2) return 0.5 + inside / wide;
  const corner = ((half - far) * (half - far)) / (2 * wide * slim);
  return inside > 0 ? 1 - corner : corner;
}

/** Samples of a texel where an edge is not straight within it. */
export const SAMPLES = 256;
/** Words of 32 samples each. */
export const SAMPLE_WORDS = SAMPLES / 32;

/**
 * Places of the samples in a texel: a rank-1 lattice (I. Sloan, S. Joe, "Lattice Methods for Multiple Integration",
 * 1994), so that no two share a row or a column and an edge along either is resolved to 1/256.
 */
export const SAMPLE_X = new Float64Array(SAMPLES);
export const SAMPLE_Y = new Float64Array(SAMPLES);
const GENERATOR = 75;
for (let i = 0; i < SAMPLES; i++) {
  SAMPLE_X[i] = (i + 0.5) / SAMPLES;
  SAMPLE_Y[i] = (((i * GENERATOR) % SAMPLES) + 0.5) / SAMPLES;
}

/** `value / 65535`, rounded, of whole numbers up to 65535². */
export function over65535(value: number): number {
  const t = value + 32768;
  return (t + (t >>> 16)) >>> 16;
}

/** How many of 32 bits are set. */
export function countBits(word: number): number {
  let v = word - ((word >>> 1) & 0x55555555);
  v = (v & 0x33333333) + ((v >>> 2) & 0x33333333);
  return Math.imul((v + (v >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24;
}
