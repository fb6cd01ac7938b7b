/**
 * Sine and cosine from + − × ÷ alone: `Math.sin` may differ between engines in the last bit, see roots.ts.
 */
const HALF_PI = 1.5707963267948966;

/** Of an angle in degrees; error below 1e-15. */
export function cosine(degrees: number): number {
  return sine(degrees + 90);
}

export function sine(degrees: number): number {
  const turned = degrees - 360 * Math.floor(degrees / 360);
  const sign = turned >= 180 ? -1 : 1;
  const half = turned >= 180 ? turned - 180 : turned;
  const x = ((half > 90 ? 180 - half : half) / 90) * HALF_PI; // 0 … π/2
  let term = x;
  let sum = x;
  for (let k = 2; k <= 24; k += 2) {
    term *= (-x * x) / (k * (k + 1));
    sum += term;
  }
  return sign * sum;
}
