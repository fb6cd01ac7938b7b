import type { Vec3 } from '../math/vector.ts';

/** Radiance that comes from a direction of length 1, y up: linear sRGB, luminance in kcd/m². */
export type Radiance = (way: Vec3) => Vec3;

const RADIANS = Math.PI / 180;

/** Where the sun is seen: y up, z to the front. @param height - Degrees above the horizon. @param turn - Degrees to the right of the front. */
export function sunWay(height: number, turn: number): Vec3 {
  const [h, t] = [height * RADIANS, turn * RADIANS];
  return [Math.cos(h) * Math.sin(t), Math.sin(h), Math.cos(h) * Math.cos(t)];
}

/** Rows of the five coefficients of Perez's distribution, each a · turbidity + b: for Y, x and y. */
const PEREZ = [
  [[0.1787, -1.463], [-0.3554, 0.4275], [-0.0227, 5.3251], [0.1206, -2.5771], [-0.067, 0.3703]],
  [[-0.0193, -0.2592], [-0.0665, 0.0008], [-0.0004, 0.2125], [-0.0641, -0.8989], [-0.0033, 0.0452]],
  [[-0.0167, -0.2608], [-0.095, 0.0092], [-0.0079, 0.2102], [-0.0441, -1.6537], [-0.0109, 0.0529]],
] as const; // prettier-ignore

/** Of x and y at the zenith: rows by falling powers of the turbidity, columns by falling powers of the sun's angle. */
const ZENITH: readonly (readonly (readonly number[])[])[] = [
  [[0.00166, -0.00375, 0.00209, 0], [-0.02903, 0.06377, -0.03202, 0.00394], [0.11693, -0.21196, 0.06052, 0.25886]],
  [[0.00275, -0.0061, 0.00317, 0], [-0.04214, 0.0897, -0.04153, 0.00516], [0.15346, -0.26756, 0.0667, 0.26688]],
]; // prettier-ignore

/** Luminance in kcd/m² and chromaticities at the zenith of {@link clearSky}. @param fromZenith - Radians of the sun. */
export function zenithOf(turbidity: number, fromZenith: number): Vec3 {
  const chi = (4 / 9 - turbidity / 120) * (Math.PI - 2 * fromZenith);
  const luminance = (4.0453 * turbidity - 4.971) * Math.tan(chi) - 0.2155 * turbidity + 2.4192;
  const [x, y] = ZENITH.map((rows) =>
    rows.reduce((sum, row) => sum * turbidity + row.reduce((inner, c) => inner * fromZenith + c, 0), 0),
  );
  return [luminance, x, y];
}

/**
 * A clear sky: A. J. Preetham, P. Shirley, B. Smits, "A Practical Analytic Model for Daylight", 1999, appendix A.2. Below
 * the horizon it is as at the horizon.
 *
 * @param turbidity - From 2, very clear, to 10, hazy.
 */
export function clearSky(sun: Vec3, turbidity: number): Radiance {
  const fromZenith = Math.acos(Math.min(1, Math.max(0, sun[1])));
  const zenith = zenithOf(turbidity, fromZenith);
  const perez = PEREZ.map((rows) => rows.map(([a, b]) => a * turbidity + b));
  const around = perez.map(([a, b, c, d, e]) => (cosine: number, angle: number, cosineOfAngle: number) =>
    (1 + a * Math.exp(b / cosine)) * (1 + c * Math.exp(d * angle) + e * cosineOfAngle ** 2),
  ); // prettier-ignore
  const atZenith = around.map((f) => f(1, fromZenith, Math.cos(fromZenith)));
  return (way) => {
    const cosine = Math.max(0.01, way[1]);
    const between = Math.min(1, Math.max(-1, way[0] * sun[0] + way[1] * sun[1] + way[2] * sun[2]));
    const angle = Math.acos(between);
    const [luminance, x, y] = around.map((f, i) => (zenith[i] * f(cosine, angle, between)) / atZenith[i]);
    return rgbOf(Math.max(0, luminance), x, y);
  };
}

/** The overcast sky of the CIE (Moon and Spencer 1942): three times as bright at the zenith as at the horizon. */
export function overcastSky(zenith: number): Radiance {
  return ([, up]) => {
    const luminance = (zenith * (1 + 2 * Math.max(0, up))) / 3;
    return [luminance * 0.98, luminance, luminance * 1.04];
  };
}

/** A pale room: two rows of lamps in its ceiling, a window to the left. Of our own. */
export function indoorRoom(): Radiance {
  return ([x, y, z]) => {
    const wall: Vec3 = [0.34, 0.32, 0.29];
    if (x < -0.5 && Math.abs(z / x) < 0.55 && y / -x > -0.1 && y / -x < 0.75) return [2.6, 3, 3.5];
    if (y < 0.2) return wall;
    const [across, along] = [x / y, z / y];
    const isLamp = Math.abs(Math.abs(across) - 0.55) < 0.14 && Math.abs(along) < 1.4 && Math.abs(along % 0.7) > 0.06;
    return isLamp ? [6.2, 5.9, 5.2] : wall;
  };
}

/** Chromaticity of a black body of so many kelvin, 1,667 to 25,000: B. Kim and others, US patent 7024034, 2006. */
export function planckian(kelvin: number): [x: number, y: number] {
  const t = 1000 / kelvin;
  const x =
    kelvin <= 4000
      ? ((-0.2661239 * t - 0.234358) * t + 0.8776956) * t + 0.17991
      : ((-3.0258469 * t + 2.1070379) * t + 0.2226347) * t + 0.24039;
  const [a, b, c, d] =
    kelvin <= 2222
      ? [-1.1063814, -1.3481102, 2.18555832, -0.20219683]
      : kelvin <= 4000
        ? [-0.9549476, -1.37418593, 2.09137015, -0.16748867]
        : [3.081758, -5.8733867, 3.75112997, -0.37001483];
  return [x, ((a * x + b) * x + c) * x + d];
}

/** Linear sRGB (IEC 61966-2-1) of a luminance and a chromaticity; what lies beyond it has no negative light. */
export function rgbOf(luminance: number, x: number, y: number): Vec3 {
  const [X, Y, Z] = [(luminance * x) / y, luminance, (luminance * (1 - x - y)) / y];
  return [
    Math.max(0, 3.2404542 * X - 1.5371385 * Y - 0.4985314 * Z),
    Math.max(0, -0.969266 * X + 1.8760108 * Y + 0.041556 * Z),
    Math.max(0, 0.0556434 * X - 0.2040259 * Y + 1.0572252 * Z),
  ];
}
