import { FLAT, formInUnits, type CardForm } from './form.ts';
import { formedCard, type CardSize, type CutOut, type FormedCard, type Share } from './formed.ts';
import { cosine, sine } from '../math/trigonometry.ts';
import type { CardRegion } from './outline/regions.ts';
import type { Recipe } from '../recipe/recipe.ts';
import { alongLine, type GroundPlace } from './line.ts';
import { withNormals, type CardNormals } from './card-normals.ts';
import { withSides, type CardSides } from './sides.ts';
import { ONE_CARD, setInUnits, startingLine, type CardSet, type SetKind } from './set.ts';
import { meshSurface, type CardSurface } from './surface.ts';
import { indicesOf, type SurfaceMesh } from './surface-mesh.ts';

/**
 * Where a card stands: turned about its upright middle line, moved, raised along its own normals, its picture mirrored, its
 * front to the back.
 */
interface Standing {
  /** Degrees; or the direction that its right side lies in. */
  turn?: number;
  way?: GroundPlace;
  x?: number;
  z?: number;
  raised?: number;
  mirrored?: boolean;
  back?: boolean;
}

/**
 * A card of a set: its size, where its corners lie in the texture (bottom left, bottom right, top right, top left), and what
 * of it there is.
 */
interface Leaf extends CardSize {
  uvs: readonly (readonly [u: number, v: number])[];
  cutOut: CutOut;
}

/** Where the cards of a set stand; a new one is an entry here. `apart` is in the unit of the widths. */
const STANDINGS: Record<SetKind, (leaves: readonly Leaf[], set: CardSet, apart: number) => Standing[]> = {
  'one card': () => [{}],
  'front and back': (_leaves, _set, apart) => [{}, { back: true, raised: -apart }],
  crossed: () => [{}, { turn: 90 }],
  'three crossed': () => [{}, { turn: 60 }, { turn: 120 }],
  star: (_leaves, { cards }) => Array.from({ length: cards }, (_, k) => ({ turn: (180 * k) / cards })),
  // copies of one picture over each other, as fur and pile are drawn
  shells: (_leaves, { cards }, apart) => Array.from({ length: cards }, (_, k) => ({ raised: k * apart })),
  layered: (leaves, { cards }, apart) =>
    // copies of one picture are mirrored in turn, so that they do not fall on each other
    Array.from({ length: cards }, (_, k) => ({
      z: ((cards - 1) / 2 - k) * apart,
      mirrored: leaves.length === 1 && k % 2 === 1,
    })),
  'in a row'(leaves, { cards, bow = 0 }, apart) {
    const widths = Array.from({ length: cards }, (_, k) => leaves[k % leaves.length].width);
    const length = widths.reduce((sum, w) => sum + w, 0) + apart * (cards - 1);
    const radius = (length * 180) / (bow * Math.PI);
    let left = -length / 2;
    return widths.map((width) => {
      const x = left + width / 2;
      left += width + apart;
      if (bow === 0) return { x };
      const turn = (bow * x) / length; // each stands square on an arc as long as the row
      return { x: radius * sine(turn), z: radius * (1 - cosine(turn)), turn };
    });
  },
  'along a line': ([{ width }], set) => alongLine(set.line ?? startingLine(set, width), set.cards),
};

/** As wide as it is set to, as tall as its picture asks. */
export function cardSize(widthMetres: number, picture: { width: number; height: number }): CardSize {
  return { width: widthMetres, height: (widthMetres * picture.height) / picture.width };
}

/** Polygons of a picture, places in shares of it from its top left corner; they do not meet. */
export interface PictureCutOut {
  polygons: readonly (readonly Share[])[];
  /** What is left open in them. */
  holes: readonly (readonly Share[])[];
}

/** What of a piece gives its card its shape. */
export interface CardOf {
  /** Metres, or the unit that `metre` says. */
  cardWidth: number;
  /** How many cards there are and how they stand; left out: one. */
  set?: CardSet | undefined;
  /** Units of the width in a metre; left out: 1. */
  metre?: number | undefined;
  /** How it is bent; left out: not at all. */
  form?: CardForm | undefined;
  /** What of the picture there is to be; left out: all of it. */
  cutOut?: PictureCutOut | undefined;
  /** The same of each part of an atlas, in shares of its rectangle; see {@link cardRegions}. */
  regionCutOuts?: readonly PictureCutOut[] | undefined;
  /** A back of triangles of its own; left out: none. */
  sides?: CardSides | undefined;
  /** How its normals are bent; left out: they are those of its surface. */
  normals?: CardNormals | undefined;
  /** Whose parts the cards of a set may show. */
  atlas?: Extract<Recipe, { kind: 'atlas' }> | undefined;
}

/** The surface of a piece's card, or of its set of cards, in the unit of its width. */
export function cardSurface(doc: CardOf, picture: { width: number; height: number }): CardSurface {
  const set = setInUnits(doc.set ?? ONE_CARD, doc.metre ?? 1);
  const form = formInUnits(doc.form ?? FLAT, doc.metre ?? 1);
  const leaves = leavesOf(doc, picture);
  const standings = STANDINGS[set.kind](leaves, set, set.apart * leaves[0].width);
  const cards = leaves.map((leaf) => ({ leaf, formed: formedCard(form, leaf, leaf.cutOut) }));
  const mesh = joined(standings.map((standing, k) => stood(cards[k % cards.length], standing)));
  const sided = doc.sides ? withSides(mesh, doc.sides, (doc.sides.apart * (doc.metre ?? 1)) / 1000) : mesh;
  return meshSurface(doc.normals ? withNormals(sided, doc.normals) : sided);
}

/** The line that the cards of a piece stand along, in metres; null where they stand along none. */
export function cardLine(doc: CardOf, picture: { width: number; height: number }): readonly GroundPlace[] | null {
  const { set = ONE_CARD, metre = 1 } = doc;
  if (set.kind !== 'along a line') return null;
  return set.line ?? startingLine(set, leavesOf(doc, picture)[0].width / metre);
}

function leavesOf(doc: CardOf, picture: { width: number; height: number }): Leaf[] {
  const regions = regionLeaves(doc);
  if (regions.length > 0) return regions;
  return [{ ...cardSize(doc.cardWidth, picture), uvs: WHOLE, cutOut: wholeCutOut(doc.cutOut) }];
}

function wholeCutOut(cutOut: PictureCutOut | undefined): CutOut {
  if (!cutOut) return null;
  // the picture's places run down, a card's run up
  const shares = (polygon: readonly Share[]) => polygon.map(([u, v]): Share => [u, 1 - v]);
  return { polygons: cutOut.polygons.map(shares), holes: cutOut.holes.map(shares) };
}

const WHOLE = [[0, 1], [1, 1], [1, 0], [0, 0]] as const; // prettier-ignore

/** The parts of an atlas that the cards of a set show, each its own; none where they show the whole picture. */
export function cardRegions({ set = ONE_CARD, atlas: recipe }: Pick<CardOf, 'set' | 'atlas'>): CardRegion[] {
  if (!recipe || !set.byRegion || set.kind === 'one card') return [];
  return recipe.params.placed.flatMap(({ x, y, turn, tall, part: of, copy }) => {
    const part = recipe.parts?.find((p) => p.sha256 === of);
    return part ? [{ key: `${of} ${copy}`, x, y, turn, tall, wide: (tall * part.width) / part.height }] : [];
  });
}

/** Upright. */
function regionLeaves({ cardWidth, set, atlas, regionCutOuts }: CardOf): Leaf[] {
  const ratio = atlas ? atlas.height / atlas.width : 1;
  return cardRegions({ set, atlas }).map((region, k) => ({
    width: cardWidth * region.wide,
    height: cardWidth * region.tall,
    uvs: cornersOf(region, ratio),
    cutOut: wholeCutOut(regionCutOuts?.[k]),
  }));
}

function cornersOf({ x, y, turn, tall, wide }: CardRegion, ratio: number): Leaf['uvs'] {
  const [cos, sin] = [cosine(turn), sine(turn)];
  return [[-1, 1], [1, 1], [1, -1], [-1, -1]].map(([across, down]) => {
    const [dx, dy] = [(across * wide) / 2, (down * tall) / 2];
    return [x + dx * cos - dy * sin, (y + dx * sin + dy * cos) / ratio] as const;
  }); // prettier-ignore
}

interface Corners {
  positions: number[];
  normals: number[];
  uvs: number[];
  rootTip: number[];
  indices: number[];
}

function stood(
  { leaf, formed }: { leaf: Leaf; formed: FormedCard },
  { turn = 0, way, x = 0, z = 0, raised = 0, mirrored = false, back = false }: Standing,
): Corners {
  const [cos, sin] = way ?? [cosine(turn), sine(turn)];
  const side = back ? -1 : 1;
  const hand = mirrored ? -1 : 1;
  const { positions, normals, shares, indices } = formed;
  return {
    positions: positions.flatMap(([px, py, pz], i) => {
      const [nx, ny, nz] = normals[i];
      const [across, out] = [hand * (px + nx * raised), pz + nz * raised];
      return [x + across * cos - out * sin, py + ny * raised, z + across * sin + out * cos];
    }),
    normals: normals.flatMap(([nx, ny, nz]) => {
      const across = hand * nx;
      return [(across * cos - nz * sin) * side, ny * side, (across * sin + nz * cos) * side];
    }),
    uvs: shares.flatMap((share) => placeIn(leaf.uvs, share)),
    rootTip: shares.map(([, up]) => up),
    indices: mirrored === back ? indices : flipped(indices),
  };
}

/** Where a place of a card lies in the texture. */
function placeIn([a, b, c, d]: Leaf['uvs'], [across, up]: Share): [u: number, v: number] {
  const mix = (i: 0 | 1) =>
    (a[i] * (1 - across) + b[i] * across) * (1 - up) + (d[i] * (1 - across) + c[i] * across) * up;
  return [mix(0), mix(1)];
}

function flipped(indices: readonly number[]): number[] {
  return indices.map((_, i) => indices[i % 3 === 0 ? i : i % 3 === 1 ? i + 1 : i - 1]);
}

function joined(cards: readonly Corners[]): SurfaceMesh {
  const indices: number[] = [];
  let first = 0;
  for (const card of cards) {
    for (const i of card.indices) indices.push(first + i);
    first += card.positions.length / 3;
  }
  return {
    positions: Float32Array.from(cards.flatMap((c) => c.positions)),
    normals: Float32Array.from(cards.flatMap((c) => c.normals)),
    uvs: Float32Array.from(cards.flatMap((c) => c.uvs)),
    indices: indicesOf(first, indices),
    rootTip: Float32Array.from(cards.flatMap((c) => c.rootTip)),
  };
}
