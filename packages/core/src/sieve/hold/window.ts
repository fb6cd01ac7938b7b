import { WHOLE, type Reach } from './reach.ts';

/** Side of a window, in texels of its level. */
export const WINDOW = 4;
/** Side of what is read for it: of the level its texels and those around, of the next those below it and around. */
const OWN = WINDOW + 2;
const BELOW = WINDOW / 2 + 2;
/** Samples of a window along each side: two a texel. */
const FINE = 2 * WINDOW;
/** What of the two texels beside a sample counts, the first one's share: of the level in quarters, of the next in eighths. */
const OWN_FIRST = [1, 3];
const BELOW_FIRST = [3, 1, 7, 5];

const own = new Int32Array(OWN * OWN);
const below = new Int32Array(BELOW * BELOW);

/**
 * How much more of a window is kept than level 0 keeps there, as a renderer samples it half way between a level and the next
 * (trilinear), at 2 × 2 places a texel, the borders clamped.
 *
 * @param next - Half the size. @param centres - Sum of the means that both clip at.
 * @returns a share of the window, −1 to 1.
 */
export function sampleWindow(level: Reach, next: Reach, centres: number, wx: number, wy: number): number {
  const { width, height, share } = level;
  const [x0, y0] = [wx * WINDOW, wy * WINDOW];
  gather(level, x0 - 1, y0 - 1, OWN, own);
  gather(next, x0 / 2 - 1, y0 / 2 - 1, BELOW, below);
  const least = 64 * centres;
  let kept = 0;
  for (let v = 0; v < FINE; v++) {
    const r = ((v + 1) >> 1) * OWN;
    const a = OWN_FIRST[v & 1];
    const s = ((v + 2) >> 2) * BELOW;
    const c = BELOW_FIRST[v & 3];
    for (let u = 0; u < FINE; u++) {
      const i = r + ((u + 1) >> 1);
      const b = OWN_FIRST[u & 1];
      const upper = b * own[i] + (4 - b) * own[i + 1];
      const lower = b * own[i + OWN] + (4 - b) * own[i + OWN + 1];
      const j = s + ((u + 2) >> 2);
      const d = BELOW_FIRST[u & 3];
      const above = d * below[j] + (8 - d) * below[j + 1];
      const under = d * below[j + BELOW] + (8 - d) * below[j + BELOW + 1];
      if (4 * (a * upper + (4 - a) * lower) + c * above + (8 - c) * under >= least) kept++;
    }
  }
  const [x1, y1] = [Math.min(width, x0 + WINDOW), Math.min(height, y0 + WINDOW)];
  let sum = 0;
  for (let y = y0; y < y1; y++) for (let i = y * width + x0, end = y * width + x1; i < end; i++) sum += share[i];
  return kept / (FINE * FINE) - sum / (WHOLE * (x1 - x0) * (y1 - y0));
}

/** How many more texels of a window are kept than should be. */
export function countWindow({ width, height, mean, share }: Reach, centre: number, wx: number, wy: number): number {
  const [x0, y0] = [wx * WINDOW, wy * WINDOW];
  const [x1, y1] = [Math.min(width, x0 + WINDOW), Math.min(height, y0 + WINDOW)];
  let rest = 0;
  for (let y = y0; y < y1; y++) {
    for (let i = y * width + x0, end = y * width + x1; i < end; i++) {
      rest -= share[i];
      if (mean[i] >= centre) rest += WHOLE;
    }
  }
  return rest / WHOLE;
}

/** The means from x0, y0 on; beyond the border the outermost go on. */
function gather({ width, height, mean }: Reach, x0: number, y0: number, side: number, to: Int32Array): void {
  for (let v = 0, k = 0; v < side; v++) {
    const row = Math.min(height - 1, Math.max(0, y0 + v)) * width;
    for (let u = 0; u < side; u++, k++) to[k] = mean[row + Math.min(width - 1, Math.max(0, x0 + u))];
  }
}
