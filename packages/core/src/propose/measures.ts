import type { Mask } from '../raster/raster.ts';

const HALF = 128;

/** Of what is kept at one half (P. Jaccard, 1912). */
export function intersectionOverUnion(a: Mask, b: Mask): number {
  let [both, either] = [0, 0];
  for (let i = 0; i < a.data.length; i++) {
    const [one, two] = [a.data[i] >= HALF, b.data[i] >= HALF];
    both += Number(one && two);
    either += Number(one || two);
  }
  return either === 0 ? 1 : both / either;
}

/** Share of the diagonal that an outline may lie off and still be the same, as the benchmark of Martin et al. has it. */
const TOLERANCE = 0.0075;

/**
 * Boundary F-measure: D. Martin, C. Fowlkes, J. Malik, "Learning to Detect Natural Image Boundaries Using Local Brightness,
 * Color, and Texture Cues" (2004): the harmonic mean of the share of one outline that lies near the other, and the reverse. A
 * texel is outline where it is kept and one beside it is not; near is within a disc, not by one-to-one matching.
 *
 * @returns 0–1; 1 where neither has an outline.
 */
export function boundaryF(mask: Mask, truth: Mask, tolerance = TOLERANCE): number {
  const { width, height } = mask;
  const radius = Math.max(1, Math.round(tolerance * Math.hypot(width, height)));
  const [one, two] = [outline(mask), outline(truth)];
  const precision = shareNear(one, two, width, height, radius);
  const recall = shareNear(two, one, width, height, radius);
  if (precision === null && recall === null) return 1;
  const [p, r] = [precision ?? 0, recall ?? 0];
  return p + r === 0 ? 0 : (2 * p * r) / (p + r);
}

function outline({ width, height, data }: Mask): number[] {
  const kept = (x: number, y: number) => data[y * width + x] >= HALF;
  const out: number[] = [];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      if (!kept(x, y)) continue;
      const isInner = (x === 0 || kept(x - 1, y)) && (x === width - 1 || kept(x + 1, y)) && (y === 0 || kept(x, y - 1)) && (y === height - 1 || kept(x, y + 1)); // prettier-ignore
      if (!isInner) out.push(y * width + x);
    }
  }
  return out;
}

/** Of the texels of one outline, those with one of the other within the radius; null where there are none. */
function shareNear(
  from: readonly number[],
  to: readonly number[],
  width: number,
  height: number,
  radius: number,
): number | null {
  if (from.length === 0) return null;
  const near = new Uint8Array(width * height);
  for (const i of to) {
    const [x, y] = [i % width, Math.floor(i / width)];
    for (let v = Math.max(0, y - radius); v <= Math.min(height - 1, y + radius); v++) {
      const across = Math.floor(Math.sqrt(radius * radius - (v - y) * (v - y)));
      near.fill(1, v * width + Math.max(0, x - across), v * width + Math.min(width - 1, x + across) + 1);
    }
  }
  return from.reduce((sum, i) => sum + near[i], 0) / from.length;
}
