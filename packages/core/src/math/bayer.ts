/**
 * Bayer's matrix of side n (a power of two), row by row: the numbers 0 … n² − 1 so that any first ones lie as far apart
 * as they can (B. E. Bayer, "An optimum method for two-level rendition of continuous-tone pictures", ICC 1973).
 */
export function bayerMatrix(side: number): number[] {
  if (side === 1) return [0];
  const half = side / 2;
  const smaller = bayerMatrix(half);
  return Array.from({ length: side * side }, (_, i) => {
    const [x, y] = [i % side, Math.floor(i / side)];
    return 4 * smaller[(y % half) * half + (x % half)] + QUADRANTS[y < half ? 0 : 1][x < half ? 0 : 1];
  });
}

const QUADRANTS = [
  [0, 2],
  [3, 1],
];
