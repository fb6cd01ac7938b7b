/**
 * Roots and powers from + − × ÷ and sqrt alone. `Math.pow`, `cbrt` and `exp` may differ between engines in the last
 * bit; the browser and the server must give the same bytes, so every table is built from these.
 */

/** Cube root of x ≥ 0 by Newton's method; relative error below 4e-16. */
export function cubeRoot(x: number): number {
  if (x <= 0) return 0;
  let scale = 1;
  let y = x;
  while (y < 0.125) {
    y *= 8;
    scale /= 2;
  }
  while (y >= 1) {
    y /= 8;
    scale *= 2;
  }
  let root = 0.6 + 0.45 * y; // y is in [0.125, 1)
  for (let i = 0; i < 8; i++) root -= (root * root * root - y) / (3 * root * root);
  return root * scale;
}

/** Fifth root of x in [0, 4] by Newton's method. */
export function fifthRoot(x: number): number {
  if (x <= 0) return 0;
  let root = 1.4; // from above, Newton on a convex function cannot overshoot
  for (let i = 0; i < 200; i++) {
    const fourth = root * root * root * root;
    const next = root - (fourth * root - x) / (5 * fourth);
    if (next >= root) break;
    root = next;
  }
  return root;
}

const LN2 = 0.6931471805599453;

/** Natural logarithm of x > 0: x = m · 2ᵏ, ln m by the atanh series. */
function logarithm(x: number): number {
  let k = 0;
  while (x > 1.5) {
    x /= 2;
    k++;
  }
  while (x < 0.75) {
    x *= 2;
    k--;
  }
  const t = (x - 1) / (x + 1);
  let sum = 0;
  let power = t;
  for (let n = 1; n < 40; n += 2) {
    sum += power / n;
    power *= t * t;
  }
  return 2 * sum + k * LN2;
}

/** eˣ for |x| < 700: range halved 10 times, Taylor series, squared back. */
export function exponential(x: number): number {
  const small = x / 1024;
  let sum = 1;
  let term = 1;
  for (let n = 1; n < 14; n++) {
    term *= small / n;
    sum += term;
  }
  for (let i = 0; i < 10; i++) sum *= sum;
  return sum;
}

/** xʸ for x ≥ 0; relative error below 1e-12. */
export function power(x: number, y: number): number {
  if (x <= 0) return y === 0 ? 1 : 0;
  if (y === 1) return x;
  return exponential(y * logarithm(x));
}
