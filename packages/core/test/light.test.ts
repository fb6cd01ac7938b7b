import { describe, expect, test } from '@jest/globals';
import { SphericalHarmonics3, Vector3 } from 'three';
import {
  clearSky,
  directSun,
  harmonicsOf,
  irradiance,
  neutralTone,
  overcastSky,
  planckian,
  rgbOf,
  SKY_LIGHTS,
  SKY_NAMES,
  sunWay,
  surroundings,
  zenithOf,
  type Surroundings,
} from '@lithe-sieve/core/testing';

type Vec = [number, number, number];
const luminance = ([r, g, b]: readonly number[]) => 0.2126 * r + 0.7152 * g + 0.0722 * b;
const GROUND: Vec = [0.3, 0.27, 0.22];

/** What falls on a surface, summed over the picture of all directions. */
function fallsOn({ width, height, data }: Surroundings, facing: Vec): Vec {
  const sum: Vec = [0, 0, 0];
  for (let i = 0; i < width * height; i++) {
    const [longitude, latitude] = [((i % width) + 0.5) / width * 2 * Math.PI - Math.PI, (Math.floor(i / width) + 0.5) / height * Math.PI - Math.PI / 2]; // prettier-ignore
    const way = [
      Math.cos(latitude) * Math.cos(longitude),
      Math.sin(latitude),
      Math.cos(latitude) * Math.sin(longitude),
    ];
    const cosine = way.reduce((d, v, k) => d + v * facing[k], 0);
    if (cosine > 0) for (let k = 0; k < 3; k++) sum[k] += data[4 * i + k] * cosine * Math.cos(latitude) * (2 * Math.PI / width) * (Math.PI / height); // prettier-ignore
  }
  return sum;
}

describe('skies', () => {
  // Preetham, Shirley, Smits 1999: equations of appendix A.2, written out here for turbidity 2 and the sun at 45°
  test('a clear sky is the published one', () => {
    const [turbidity, theta] = [2, Math.PI / 4];
    const chi = (4 / 9 - 2 / 120) * (Math.PI - 2 * theta);
    const [Y, x, y] = zenithOf(turbidity, theta);
    expect(Y).toBeCloseTo((4.0453 * 2 - 4.971) * Math.tan(chi) - 0.2155 * 2 + 2.4192, 9);
    const t3 = [theta ** 3, theta ** 2, theta, 1];
    const dot = (row: number[]) => row.reduce((sum, v, i) => sum + v * t3[i], 0);
    expect(x).toBeCloseTo(4 * dot([0.00166, -0.00375, 0.00209, 0]) + 2 * dot([-0.02903, 0.06377, -0.03202, 0.00394]) + dot([0.11693, -0.21196, 0.06052, 0.25886]), 9); // prettier-ignore
    expect(y).toBeCloseTo(4 * dot([0.00275, -0.0061, 0.00317, 0]) + 2 * dot([-0.04214, 0.0897, -0.04153, 0.00516]) + dot([0.15346, -0.26756, 0.0667, 0.26688]), 9); // prettier-ignore
    const sky = clearSky(sunWay(45, 0), turbidity);
    expect(luminance(sky([0, 1, 0]))).toBeCloseTo(Y, 2); // sRGB's primaries to four digits
    const perez = (cosine: number, angle: number) =>
      (1 + (0.1787 * 2 - 1.463) * Math.exp((-0.3554 * 2 + 0.4275) / cosine)) *
      (1 + (-0.0227 * 2 + 5.3251) * Math.exp((0.1206 * 2 - 2.5771) * angle) + (-0.067 * 2 + 0.3703) * Math.cos(angle) ** 2);
    const way: Vec = [Math.SQRT1_2, 0.5, 0.5];
    const angle = Math.acos(0.5 * Math.SQRT1_2 + 0.5 * Math.SQRT1_2);
    expect(luminance(sky(way)) / luminance(sky([0, 1, 0]))).toBeCloseTo(perez(0.5, angle) / perez(1, theta), 3);
  }); // prettier-ignore

  // closed forms: 7π/9 of the zenith on the ground, π (1/6 + 4/(9π)) on a wall under it (Moon and Spencer 1942)
  test('an overcast sky lights ground and walls as its closed forms say', () => {
    const above = overcastSky(9);
    const level = irradiance((way) => (way[1] < 0 ? [0, 0, 0] : above(way)), [0, 1, 0]);
    expect(level[1] / ((7 * Math.PI) / 9)).toBeCloseTo(9, 1);
    const wall = irradiance((way) => (way[1] < 0 ? [0, 0, 0] : above(way)), [0, 0, 1]);
    expect(wall[1] / (Math.PI / 6 + 4 / 9)).toBeCloseTo(9, 1);
  });

  test('suns: CIE illuminant A at 2856 K, and the extinction of the air', () => {
    const [x, y] = planckian(2856);
    expect(Math.hypot(x - 0.44758, y - 0.40745)).toBeLessThan(0.001); // CIE 15
    expect(directSun(90)).toBeCloseTo(133.1 * Math.exp(-0.21), 9);
    expect(rgbOf(1, 0.3127, 0.329)).toEqual([1, 1, 1].map((v) => expect.closeTo(v, 3))); // D65 is sRGB's white
  });

  test('a white card that faces the sun is as bright as white, whatever the sky; colours are balanced for it', () => {
    for (const name of SKY_NAMES) {
      const around = surroundings(name, SKY_LIGHTS[name], GROUND);
      const all = fallsOn(around, [...around.way]).map((v, k) => v + around.sun[k]);
      expect([name, luminance(all) / Math.PI]).toEqual([name, expect.closeTo(1, 1)]);
      if (name === 'clear') expect(all.map((v) => v / Math.PI)).toEqual([1, 1, 1].map((v) => expect.closeTo(v, 2)));
      expect([...around.data].every((v) => v >= 0 && Number.isFinite(v))).toBe(true);
    }
  });

  // Ramamoorthi and Hanrahan 2001: 3 % of the brightest where the light is smooth; evaluated by three's own harmonics
  test('nine harmonics light as the picture does', () => {
    for (const name of SKY_NAMES) {
      const around = surroundings(name, SKY_LIGHTS[name], GROUND);
      const harmonics = new SphericalHarmonics3();
      harmonics.set(harmonicsOf(around).map((c) => new Vector3(...c)));
      const most = luminance(fallsOn(around, [0, 1, 0]));
      for (const way of [[0, 1, 0], [0, -1, 0], [0, 0, 1], [0, 0, -1], [1, 0, 0], [-1, 0, 0], [0.6, 0.64, 0.48]] as Vec[]) {
        const { x, y, z } = harmonics.getIrradianceAt(new Vector3(...way), new Vector3());
        expect([name, way, Math.abs(luminance([x, y, z]) - luminance(fallsOn(around, way))) / most < 0.06]).toEqual([name, way, true]);
      } // prettier-ignore
    }
  });
});

test('neutral tone: Khronos PBR Neutral keeps base colours but for 0.04, and never reaches white', () => {
  // worked from the specification's formulas (Khronos PBR Neutral Tone Mapper, 2024)
  expect(neutralTone([0.5, 0.3, 0.2])).toEqual([0.46, 0.26, 0.16].map((v) => expect.closeTo(v, 12)));
  expect(neutralTone([0.04, 0.04, 0.04])).toEqual([0.01, 0.01, 0.01].map((v) => expect.closeTo(v, 12)));
  // peak 1.96 of grey 2: 1 − 0.24² / (1.96 + 0.24 − 0.76) = 0.96
  expect(neutralTone([2, 2, 2])).toEqual([0.96, 0.96, 0.96].map((v) => expect.closeTo(v, 12)));
  expect(Math.max(...neutralTone([1000, 10, 1]))).toBeLessThan(1);
});
