import { cosine, sine } from '../math/trigonometry.ts';
import type { AtlasPlace } from '../recipe/atlas/atlas.ts';
import type { Recipe } from '../recipe/recipe.ts';
import { ONE_CARD, type CardSet, type SetKind } from './set.ts';
import { indicesOf, meshSurface, type CardSurface, type SurfaceMesh } from './surface.ts';

/** Metres. */
export interface CardSize {
  width: number;
  height: number;
}

/** Where a card stands: turned about its upright middle line, moved, its picture mirrored, its front to the back. */
interface Standing {
  turn?: number;
  x?: number;
  z?: number;
  mirrored?: boolean;
  back?: boolean;
}

/** A card of a set: its size, and where its corners lie in the texture: bottom left, bottom right, top right, top left. */
interface Leaf extends CardSize {
  uvs: readonly (readonly [u: number, v: number])[];
}

/** Where the cards of a set stand; a new one is an entry here. `apart` is in the unit of the widths. */
const STANDINGS: Record<SetKind, (leaves: readonly Leaf[], set: CardSet, apart: number) => Standing[]> = {
  'one card': () => [{}],
  'front and back': (_leaves, _set, apart) => [{}, { back: true, z: -apart }],
  crossed: () => [{}, { turn: 90 }],
  'three crossed': () => [{}, { turn: 60 }, { turn: 120 }],
  layered: (leaves, { cards }, apart) =>
    // copies of one picture are mirrored in turn, so that they do not fall on each other
    Array.from({ length: cards }, (_, k) => ({
      z: ((cards - 1) / 2 - k) * apart,
      mirrored: leaves.length === 1 && k % 2 === 1,
    })),
  'in a row'(leaves, { cards }, apart) {
    const widths = Array.from({ length: cards }, (_, k) => leaves[k % leaves.length].width);
    let left = -(widths.reduce((sum, w) => sum + w, 0) + apart * (cards - 1)) / 2;
    return widths.map((width) => {
      const x = left + width / 2;
      left += width + apart;
      return { x };
    });
  },
};

/** As wide as it is set to, as tall as its picture asks. */
export function cardSize(widthMetres: number, picture: { width: number; height: number }): CardSize {
  return { width: widthMetres, height: (widthMetres * picture.height) / picture.width };
}

/** What of a piece gives its card its shape. */
export interface CardOf {
  /** Metres. */
  cardWidth: number;
  /** How many cards there are and how they stand; left out: one. */
  set?: CardSet | undefined;
  /** Whose parts the cards of a set may show. */
  atlas?: Extract<Recipe, { kind: 'atlas' }> | undefined;
}

/** The surface of a piece's card, or of its set of cards, in the unit of its width. */
export function cardSurface(doc: CardOf, picture: { width: number; height: number }): CardSurface {
  const set = doc.set ?? ONE_CARD;
  const whole: Leaf = { ...cardSize(doc.cardWidth, picture), uvs: WHOLE };
  const regions = set.byRegion && set.kind !== 'one card' ? regionLeaves(doc) : [];
  const leaves = regions.length > 0 ? regions : [whole];
  const standings = STANDINGS[set.kind](leaves, set, set.apart * leaves[0].width);
  return meshSurface(joined(standings.map((standing, k) => cardAt(leaves[k % leaves.length], standing))));
}

const WHOLE = [[0, 1], [1, 1], [1, 0], [0, 0]] as const; // prettier-ignore

/** The parts of an atlas, upright. */
function regionLeaves({ cardWidth, atlas: recipe }: CardOf): Leaf[] {
  if (!recipe) return [];
  const ratio = recipe.height / recipe.width;
  return recipe.params.placed.flatMap((place) => {
    const part = recipe.parts?.find((p) => p.sha256 === place.part);
    if (!part) return [];
    const wide = (place.tall * part.width) / part.height;
    return [{ width: cardWidth * wide, height: cardWidth * place.tall, uvs: cornersOf(place, wide, ratio) }];
  });
}

function cornersOf({ x, y, turn, tall }: AtlasPlace, wide: number, ratio: number): Leaf['uvs'] {
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
  indices: number[];
}

/** One rectangle, centred on x. The corners: bottom left, bottom right, top right, top left. */
function cardAt({ width, height, uvs }: Leaf, { turn = 0, x = 0, z = 0, mirrored, back }: Standing): Corners {
  const [cos, sin] = [cosine(turn), sine(turn)];
  const half = mirrored ? -width / 2 : width / 2;
  const side = back ? -1 : 1;
  const corner = (across: number, up: number) => [x + across * cos, up, z + across * sin];
  return {
    positions: [corner(-half, 0), corner(half, 0), corner(half, height), corner(-half, height)].flat(),
    normals: Array.from({ length: 4 }, () => [-sin * side, 0, cos * side]).flat(),
    uvs: uvs.flat(),
    indices: Boolean(mirrored) === Boolean(back) ? [0, 1, 2, 0, 2, 3] : [0, 2, 1, 0, 3, 2],
  };
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
  };
}
