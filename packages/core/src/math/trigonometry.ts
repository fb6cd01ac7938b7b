/**
 * Sine and cosine from + − × ÷ alone: `Math.sin` may differ between engines in the last bit, see roots.ts.
 */
const HALF_PI = 1.5707963267948966;

/** Cosine of an angle in degrees; error below 1e-15. */
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

const ARC_STEP = 0.2679491924311227; // tan 15°

/** Angle of the point (x, y) in degrees, 0 ≤ angle < 360; 0 at the origin. Error below 1e-13. */
export function angleOf(y: number, x: number): number {
  if (x === 0 && y === 0) return 0;
  const [ax, ay] = [Math.abs(x), Math.abs(y)];
  const steep = ay > ax;
  const first = arcTangent(steep ? ax / ay : ay / ax);
  const quarter = steep ? 90 - first : first;
  const half = x < 0 ? 180 - quarter : quarter;
  return y < 0 ? (360 - half) % 360 : half;
}

/** Arc tangent of t in [0, 1], in degrees: turned back by 30° where t is large, then the series. */
function arcTangent(t: number): number {
  const turned = t > ARC_STEP;
  const root3 = Math.sqrt(3);
  const x = turned ? (t * root3 - 1) / (t + root3) : t;
  let sum = 0;
  let term = x;
  for (let n = 1; n < 30; n += 2) {
    sum += term / n;
    term *= -x * x;
  }
  return (turned ? 30 : 0) + (sum * 90) / HALF_PI;
}
