import { makePicture, toRgba8, type Mask, type Picture, type RunSource } from '@lithe-sieve/core';
import { drawCordgrass } from '../cordgrass.ts';
import { drawLeafScan } from '../leaf.ts';
import { drawMane } from '../mane.ts';
import { clampByte, type Colour, type Drawn } from '../drawn.ts';

/** Side of a sample, texels. */
export const SAMPLE_SIDE = 160;
const SEED = 31;

type PerTexel = (x: number, y: number, i: number) => readonly number[];

function painted(perTexel: PerTexel): Picture {
  const data = new Uint8Array(4 * SAMPLE_SIDE * SAMPLE_SIDE);
  for (let y = 0, i = 0; y < SAMPLE_SIDE; y++) {
    for (let x = 0; x < SAMPLE_SIDE; x++, i++) {
      const [r, g, b] = perTexel(x, y, i);
      data.set([clampByte(r), clampByte(g), clampByte(b), 255], 4 * i);
    }
  }
  return makePicture(SAMPLE_SIDE, SAMPLE_SIDE, data);
}

const at = ({ data }: Picture, i: number) => [data[4 * i], data[4 * i + 1], data[4 * i + 2]];
const source = (id: string, picture: Picture): RunSource => ({ id, sha256: id, picture });
const asPicture = ({ data }: Mask): Picture => painted((_x, _y, i) => [data[i], data[i], data[i]]);

/** With its truth as a second source. */
const known = (id: string, picture: Picture, mask: Mask): RunSource[] =>
  id === 'picture' ? [source(id, picture), source('mask', asPicture(mask))] : [source(id, picture)];

const drawn = (() => {
  const kept = new Map<string, { colour: Picture; mask: Mask }>();
  return (name: string, draw: () => Drawn) => {
    const one = kept.get(name) ?? (({ colour, mask }) => ({ colour: toRgba8(colour), mask }))(draw());
    kept.set(name, one);
    return one;
  };
})();
const theLeaf = () => drawn('leaf', () => drawLeafScan(SEED, SAMPLE_SIDE));
const theBlades = () => drawn('blades', () => drawCordgrass(SEED, SAMPLE_SIDE));
const theHair = () => drawn('hair', () => drawMane(SEED, SAMPLE_SIDE));

/** On one colour, by its mask. */
function on({ colour, mask }: { colour: Picture; mask: Mask }, ground: Colour): Picture {
  return painted((_x, _y, i) => at(colour, i).map((v, c) => ground[c] + (mask.data[i] / 255) * (v - ground[c])));
}

/** A scan of a leaf on pale card. */
export const leaf = (): RunSource[] => known('picture', theLeaf().colour, theLeaf().mask);
export const leafMask = (): RunSource[] => [source('mask', asPicture(theLeaf().mask))];
/** Light that falls off, as under a lamp at one side. */
export function leafUneven(): RunSource[] {
  const { colour, mask } = theLeaf();
  return known('picture', painted((x, y, i) => at(colour, i).map((v) => v * (1 - 0.5 * (x / SAMPLE_SIDE) - 0.12 * (y / SAMPLE_SIDE)))), mask); // prettier-ignore
}
/** Lit from one side; as pictures under lamps, by slopes of its own lightness. */
export function leafLit(azimuth = 0, id = 'picture'): RunSource[] {
  const { colour, mask } = theLeaf();
  if (id === 'picture') return known(id, painted((x, _y, i) => at(colour, i).map((v) => v * (0.25 + (1.1 * x) / SAMPLE_SIDE))), mask); // prettier-ignore
  const [east, north] = [Math.cos((azimuth * Math.PI) / 180), Math.sin((azimuth * Math.PI) / 180)];
  const light = (i: number) => at(colour, Math.max(0, Math.min(colour.data.length / 4 - 1, i)))[1];
  const lit = painted((_x, _y, i) => {
    const slope = east * (light(i - 1) - light(i + 1)) - north * (light(i - SAMPLE_SIDE) - light(i + SAMPLE_SIDE));
    return at(colour, i).map((v) => v * (0.55 + slope / 90));
  });
  return [source(id, lit)];
}
/** Crumbs around it. */
export function leafDusty(): RunSource[] {
  const { colour, mask } = theLeaf();
  const isCrumb = (x: number, y: number) => [...Array(26).keys()].some((k) => Math.hypot(x - ((k * 53) % SAMPLE_SIDE), y - ((k * 37 + 11) % SAMPLE_SIDE)) < 1.6 + (k % 3)); // prettier-ignore
  return known(
    'picture',
    painted((x, y, i) => (isCrumb(x, y) ? [96, 84, 60] : at(colour, i))),
    mask,
  );
}
/** Holes of a radius, through which the card shows. */
export function leafEaten(radius: number): RunSource[] {
  const { colour, mask } = theLeaf();
  const holes = [[80, 60], [70, 90], [92, 100]]; // prettier-ignore
  const isHole = (x: number, y: number) => holes.some(([u, v]) => Math.hypot(x - u, y - v) < radius);
  return known(
    'picture',
    painted((x, y, i) => (isHole(x, y) ? at(colour, 0) : at(colour, i))),
    mask,
  );
}
export const blades = (id = 'picture', asMask = false): RunSource[] =>
  asMask ? [source(id, asPicture(theBlades().mask))] : known(id, on(theBlades(), [120, 128, 132]), theBlades().mask);
export const bladesOn = (ground: Colour): RunSource[] => known('picture', on(theBlades(), ground), theBlades().mask);
export const hairOn = (ground: Colour, id = 'picture'): RunSource[] => known(id, on(theHair(), ground), theHair().mask);

/** Waves, as heights or as normals. */
export function relief(id: string, asNormals = false): RunSource[] {
  const wave = (x: number, y: number) => Math.sin(x / 7 + Math.sin(y / 11));
  const slope = (x: number) => Math.cos(x / 7);
  const grey = (v: number) => [v, v, v];
  return [
    source(
      id,
      painted((x, y) => (asNormals ? [128 - 60 * slope(x), 128, 236] : grey(127 + 120 * wave(x, y)))),
    ),
  ];
}
