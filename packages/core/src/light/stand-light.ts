import type { Vec3 } from '../math/vector.ts';
import { clearSky, indoorRoom, overcastSky, planckian, rgbOf, sunWay, type Radiance } from './sky.ts';

export const SKY_NAMES = ['clear', 'overcast', 'dusk', 'indoor', 'even'] as const;
export type SkyName = (typeof SKY_NAMES)[number];
export const TONES = ['neutral', 'none'] as const;

/** How a card is lit on the Stand. Nothing of it is handed off. */
export interface StandLight {
  /** Of the sun, or of the lamp: degrees above the horizon, and to the right of the card's front. */
  height: number;
  turn: number;
  /** Times as strong as the sky has it. */
  strength: number;
  /** Its colour, kelvin. */
  warmth: number;
  /** How large it is seen, degrees from side to side: a larger one has softer shadows. */
  size: number;
  /** Stops. */
  exposure: number;
  /** The curve from light to the screen: Khronos PBR Neutral, or none. */
  tone: (typeof TONES)[number];
}

export const STAND_LIGHT_RANGES = {
  height: { min: 2, max: 90, step: 1, digits: 0 },
  turn: { min: -180, max: 180, step: 1, digits: 0 },
  strength: { min: 0, max: 4, step: 0.05, digits: 2 },
  warmth: { min: 2000, max: 12_000, step: 100, digits: 0 },
  size: { min: 0, max: 40, step: 0.5, digits: 1 },
  exposure: { min: -4, max: 4, step: 0.1, digits: 1 },
} as const;

/** What a sky is lit like at first. */
export const SKY_LIGHTS: Record<SkyName, StandLight> = {
  clear: { height: 38, turn: -36, strength: 1, warmth: 5500, size: 0.5, exposure: 0.7, tone: 'neutral' },
  overcast: { height: 55, turn: -36, strength: 0, warmth: 6500, size: 0.5, exposure: 0.2, tone: 'neutral' },
  dusk: { height: 5, turn: -62, strength: 1, warmth: 2800, size: 0.5, exposure: 0.2, tone: 'neutral' },
  indoor: { height: 60, turn: 30, strength: 1, warmth: 3600, size: 6, exposure: 0, tone: 'neutral' },
  even: { height: 55, turn: -36, strength: 0, warmth: 6500, size: 6, exposure: 0, tone: 'neutral' },
};

/** Illuminance of the sun at normal incidence, klx: IESNA's daylight, 133.1 · exp(−0.21 / sin h) for a clear sky (from memory). */
export const directSun = (height: number): number => 133.1 * Math.exp(-0.21 / Math.sin((height * Math.PI) / 180));

/** What a sky shines, and how strong its sun is at normal incidence, klx. */
interface Sky {
  radiance: (sun: Vec3) => Radiance;
  direct: (height: number) => number;
  /** How far a camera takes its light, with its sun as it is at first, for white: 1 wholly, 0 not at all. */
  balance: number;
  /** Whether as much comes from below. */
  allRound?: boolean;
}

const SKIES: Record<SkyName, Sky> = {
  clear: { radiance: (sun) => clearSky(sun, 2.5), direct: directSun, balance: 1 },
  overcast: { radiance: () => overcastSky(10), direct: (height) => 0.35 * directSun(height), balance: 0.8 },
  dusk: { radiance: (sun) => clearSky(sun, 4), direct: directSun, balance: 0.35 },
  indoor: { radiance: indoorRoom, direct: () => 2.4, balance: 0.6 },
  even: { radiance: () => () => [1, 1, 1], direct: () => 2.4, balance: 0, allRound: true },
};

/** Light around a card, so bright that a white one which faces the sun is as bright as white on the screen. */
export interface Surroundings {
  /** Radiance of all directions, RGBA as linear sRGB: from straight down, row by row, to straight up. */
  width: number;
  height: number;
  data: Float32Array;
  /** Of the sun at normal incidence: π lights a white card to 1. */
  sun: Vec3;
  /** Where it is seen. */
  way: Vec3;
}

/** Directions around. */
const [WIDTH, HEIGHT] = [96, 48];

/** @param ground - Share of the light that the ground gives back, linear sRGB. */
export function surroundings(sky: SkyName, { height, turn, strength, warmth }: StandLight, ground: Vec3): Surroundings {
  const way = sunWay(height, turn);
  const { radiance: radianceOf, direct: directOf, balance, allRound = false } = SKIES[sky];
  const radiance = radianceOf(way);
  const direct = directOf(height) * strength;
  const sunAt = (kelvin: number) => rgbOf(1, ...planckian(kelvin)).map((v) => v * direct) as unknown as Vec3;
  const sun = sunAt(warmth);
  const data = new Float32Array(4 * WIDTH * HEIGHT);
  const above = WAYS.map((of) => (of[1] < 0 && !allRound ? null : radiance(of)));
  const level: Vec3 = irradiance((_, i) => above[i] ?? NONE, [0, 1, 0]);
  const below = level.map((v, k) => (ground[k] * (v + sun[k] * Math.max(0, way[1]))) / Math.PI);
  const facing = irradiance((_, i) => above[i] ?? (below as unknown as Vec3), way);
  const usual = sunAt(SKY_LIGHTS[sky].warmth);
  const white = facing.map((v, k) => v + usual[k]) as unknown as Vec3;
  const scale = white.map((v) => Math.PI / (v ** balance * luminanceOf(white) ** (1 - balance)));
  for (let i = 0; i < WIDTH * HEIGHT; i++) {
    const found = above[i] ?? below;
    for (let k = 0; k < 3; k++) data[4 * i + k] = found[k] * scale[k];
    data[4 * i + 3] = 1;
  }
  return { width: WIDTH, height: HEIGHT, data, sun: sun.map((v, k) => v * scale[k]) as unknown as Vec3, way };
}

/** Radiance from a direction of length 1, of the nearest place of the picture. */
export function radianceAround({ width, height, data }: Surroundings, [x, y, z]: Vec3): Vec3 {
  const across = Math.floor(((Math.atan2(z, x) + Math.PI) / (2 * Math.PI)) * width) % width;
  const down = Math.min(height - 1, Math.floor((Math.asin(Math.max(-1, Math.min(1, y))) / Math.PI + 0.5) * height));
  const at = 4 * (down * width + across);
  return [data[at], data[at + 1], data[at + 2]];
}

const luminanceOf = ([r, g, b]: Vec3) => 0.2126 * r + 0.7152 * g + 0.0722 * b;

/** The direction of a place of the picture around: as three reads one that is laid out by longitude and latitude. */
function wayOf(i: number): Vec3 {
  const longitude = (2 * Math.PI * ((i % WIDTH) + 0.5)) / WIDTH - Math.PI;
  const latitude = (Math.PI * (Math.floor(i / WIDTH) + 0.5)) / HEIGHT - Math.PI / 2;
  return [Math.cos(latitude) * Math.cos(longitude), Math.sin(latitude), Math.cos(latitude) * Math.sin(longitude)];
}

/** A sun that is dragged asks for all of them with each picture. */
const WAYS: readonly Vec3[] = Array.from({ length: WIDTH * HEIGHT }, (_, i) => wayOf(i));
const NONE: Vec3 = [0, 0, 0];

/**
 * What falls on a surface that faces a direction; the mean over small pieces of the sphere.
 *
 * @param radiance - Of a direction, which is the `i`-th.
 */
export function irradiance(radiance: (way: Vec3, i: number) => Vec3, facing: Vec3): Vec3 {
  const sum = [0, 0, 0];
  for (const [i, way] of WAYS.entries()) {
    const cosine = way[0] * facing[0] + way[1] * facing[1] + way[2] * facing[2];
    if (cosine <= 0) continue;
    const solid = solidOf(way);
    const found = radiance(way, i);
    for (let k = 0; k < 3; k++) sum[k] += found[k] * cosine * solid;
  }
  return sum as unknown as Vec3;
}

/**
 * What comes from around as nine spherical harmonics, each a colour: R. Ramamoorthi, P. Hanrahan, "An Efficient
 * Representation for Irradiance Environment Maps", 2001, eq. 3, in the order 1, y, z, x, xy, yz, z², xz, x² − y².
 */
export function harmonicsOf({ data }: Pick<Surroundings, 'data'>): Vec3[] {
  const out = Array.from({ length: 9 }, () => [0, 0, 0]);
  for (const [i, way] of WAYS.entries()) {
    const solid = solidOf(way);
    for (const [k, basis] of basisAt(way).entries())
      for (let c = 0; c < 3; c++) out[k][c] += data[4 * i + c] * basis * solid;
  }
  return out as unknown as Vec3[];
}

const basisAt = ([x, y, z]: Vec3): number[] => [
  0.282095,
  0.488603 * y,
  0.488603 * z,
  0.488603 * x,
  1.092548 * x * y,
  1.092548 * y * z,
  0.315392 * (3 * z * z - 1),
  1.092548 * x * z,
  0.546274 * (x * x - y * y),
];

const solidOf = (way: Vec3) => (2 * Math.PI * Math.PI * Math.sqrt(1 - way[1] * way[1])) / (WIDTH * HEIGHT);
