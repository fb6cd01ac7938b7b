import {
  growRecipe,
  makeMask,
  makePicture,
  makeRecipe,
  toRgba8,
  type Mask,
  type Picture,
} from '@lithe-sieve/core/testing';
import { drawCordgrass, drawLeafScan, drawMane } from '@lithe-sieve/demo';

/** A picture whose exact mask is known. */
export interface Scene {
  name: string;
  picture: Picture;
  truth: Mask;
}

type Colour = readonly [number, number, number];
type Backdrop = (u: number, v: number) => Colour;
interface Subject {
  name: string;
  picture: Picture;
}

/** Numbers 0–1 by a seed: mulberry32, as it is published by its author (T. Ettinger, 2017). */
function random(seed: number): () => number {
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** Smooth noise, −1 to 1, in waves of `size` of the picture. */
function noise(seed: number, size: number): (u: number, v: number) => number {
  const next = random(seed);
  const waves = Array.from(
    { length: 9 },
    () => [(next() - 0.5) / size, (next() - 0.5) / size, 6.283 * next()] as const,
  );
  return (u, v) => waves.reduce((sum, [a, b, phase]) => sum + Math.sin(6.283 * (a * u + b * v) + phase), 0) / 4.5;
}

const plus = ([r, g, b]: Colour, by: number): Colour => [r + by, g + by, b + by];
const mix = (a: Colour, b: Colour, t: number): Colour => [0, 1, 2].map((k) => a[k] + (b[k] - a[k]) * t) as unknown as Colour; // prettier-ignore

const BACKDROPS: Record<string, (seed: number) => Backdrop> = {
  'pale card': () => (u, v) => plus([222, 214, 202], -26 * ((u - 0.3) ** 2 + (v - 0.4) ** 2)),
  'dark cloth': (s) =>
    (
      (n) => (u, v) =>
        plus([38, 40, 48], 9 * n(u, v))
    )(noise(s, 0.02)),
  'shaded sky': () => (u, v) => mix([84, 132, 196], [226, 232, 236], v),
  sand: (s) =>
    (
      (n) => (u, v) =>
        plus([186, 166, 136], 22 * n(u, v))
    )(noise(s, 0.03)),
  'leaves behind': (s) => ((n, m) => (u, v) => mix([46, 74, 40], [122, 138, 74], 0.5 + 0.5 * n(u, v) + 0.1 * m(u, v)))(noise(s, 0.22), noise(s + 1, 0.03)), // prettier-ignore
  boards: (s) => ((n) => (u, v) => plus((u * 7) % 1 < 0.04 ? [52, 44, 38] : [134, 120, 104], 14 * n(u * 8, v)))(noise(s, 0.3)), // prettier-ignore
  'checked cloth': () => (u, v) => ((Math.floor(u * 9) + Math.floor(v * 9)) % 2 ? [200, 196, 190] : [150, 60, 56]),
  water: (s) =>
    (
      (n) => (u, v) =>
        plus([50, 78, 96], 24 * n(u, v * 5))
    )(noise(s, 0.12)),
  'grey studio': () => (u, v) => plus([142, 142, 144], 40 * (0.5 - v) - 18 * (u - 0.5) ** 2),
  overcast: (s) =>
    (
      (n) => (u, v) =>
        plus([222, 226, 230], 6 * n(u, v))
    )(noise(s, 0.4)),
};

const grown = (name: string, recipe: Parameters<typeof growRecipe>[0]): Subject => {
  const bands = (height: number, rows: (y0: number, y1: number) => void) => rows(0, height);
  const { picture } = growRecipe(recipe, { scale: 1, allocate: (n) => new Uint8Array(n), bands }, { withMaps: false });
  return { name, picture };
};
function cutOut(name: string, { colour, mask }: ReturnType<typeof drawLeafScan>): Subject {
  const rgba = toRgba8(colour);
  return { name, picture: makePicture(rgba.width, rgba.height, rgba.data.map((v, i) => (i % 4 === 3 ? mask.data[i >> 2] : v))) }; // prettier-ignore
}

const SIDE = 320;

function subjects(set: number): Subject[] {
  const own = 100 * set;
  return [
    cutOut('leaf', drawLeafScan(801 + own, SIDE)),
    cutOut('eaten leaf', drawLeafScan(805 + own, SIDE)),
    cutOut('cordgrass', drawCordgrass(803 + own, SIDE)),
    cutOut('mane', drawMane(804 + own, SIDE)),
    grown('tuft', makeRecipe('tuft', { seed: 11 + own, width: SIDE, height: SIDE })),
    grown('thin tuft', makeRecipe('tuft', { seed: 12 + own, width: SIDE, height: 400 })),
    grown('spray', makeRecipe('spray', { seed: 13 + own, width: SIDE, height: 360 })),
    grown('strands', makeRecipe('strands', { seed: 14 + own, width: 400, height: SIDE })),
    grown('net', makeRecipe('weave', { seed: 15 + own, width: SIDE, height: SIDE })),
    grown('wattle', makeRecipe('weave', { seed: 16 + own, width: SIDE, height: 240, pattern: 'wattle' })),
  ];
}

/** Of linear light, whole bytes. */
function onto(
  { picture: { width, height, data } }: Subject,
  backdrop: Backdrop,
  seed: number,
  shadow: number,
): Scene['picture'] {
  // prettier-ignore
  const out = new Uint8Array(4 * width * height);
  const next = random(seed);
  const away = Math.round(0.02 * width);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i += 4) {
      const behind = backdrop((x + 0.5) / width, (y + 0.5) / height);
      const under = data[4 * (Math.max(0, y - away) * width + Math.max(0, x - away)) + 3] / 255;
      const dark = 1 - shadow * under;
      const alpha = data[i + 3] / 255;
      const grain = 5 * (next() - 0.5);
      for (let c = 0; c < 3; c++) {
        out[i + c] = Math.max(
          0,
          Math.min(255, Math.round(alpha * data[i + c] + (1 - alpha) * behind[c] * dark + grain)),
        );
      }
      out[i + 3] = 255;
    }
  }
  return makePicture(width, height, out);
}

/** Forty: each subject before four backdrops, every backdrop four times. @param set - Another forty: other subjects, other pairs. */
export function proposalScenes(set = 0): Scene[] {
  const names = Object.keys(BACKDROPS);
  return subjects(set).flatMap((subject, s) =>
    [0, 1, 2, 3].map((n) => {
      const backdrop = names[(s + 3 * n + set) % names.length];
      const picture = onto(
        subject,
        BACKDROPS[backdrop](100 * s + n + 1000 * set),
        7000 + 10 * s + n + 1000 * set,
        n % 2 ? 0.3 : 0,
      );
      const { width, height, data } = subject.picture;
      const truth = makeMask(
        width,
        height,
        Uint8Array.from({ length: width * height }, (_, i) => data[4 * i + 3]),
      );
      return { name: `${subject.name}, ${backdrop}`, picture, truth };
    }),
  );
}

/** The truth of a picture that was halved: means of its texels. */
export function shrunkTruth({ width, height, data }: Mask, w: number, h: number): Mask {
  const out = new Uint8Array(w * h);
  for (let y = 0; y < h; y++) {
    const [y0, y1] = [Math.floor((y * height) / h), Math.max(1, Math.floor(((y + 1) * height) / h))];
    for (let x = 0; x < w; x++) {
      const [x0, x1] = [Math.floor((x * width) / w), Math.max(1, Math.floor(((x + 1) * width) / w))];
      let [sum, n] = [0, 0];
      for (let v = y0; v < y1; v++) for (let u = x0; u < x1; u++, n++) sum += data[v * width + u];
      out[y * w + x] = Math.round(sum / Math.max(1, n));
    }
  }
  return makeMask(w, h, out);
}
