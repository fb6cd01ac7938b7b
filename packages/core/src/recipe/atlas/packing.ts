import type { RecipePart } from '../part.ts';
import type { Recipe } from '../recipe.ts';
import type { PartPicture } from '../grow.ts';
import { SieveError } from '../../errors.ts';
import { MOST_PLACED, type AtlasPlace } from './atlas.ts';
import { outlineOf, type Outline } from './outline.ts';
import { packBoxes } from './boxes.ts';
import { pack, usedArea, type Packed, type PackHow } from './pack.ts';

export interface AtlasPacking {
  placed: AtlasPlace[];
  /** Share of the atlas that is covered, and what it would be by boxes. */
  used: number;
  byBoxes: number;
}

type AtlasRecipe = Extract<Recipe, { kind: 'atlas' }>;

/**
 * Packs all copies of the parts of an atlas: by their outlines, or by their boxes where those use more of it.
 *
 * @param keep - What is placed stays, and only what is new is laid beside it.
 * @throws {@link SieveError} `out-of-range` where they find no room or are too many, `missing-source` without a picture.
 */
export function packAtlas(
  { params, parts = [], width, height }: AtlasRecipe,
  { pictureOf, keep, checkpoint }: { pictureOf: PartPicture; keep: boolean; checkpoint: () => void },
): AtlasPacking {
  const copies = parts.flatMap((part) => Array.from({ length: part.copies ?? 1 }, (_, copy) => ({ part, copy })));
  if (copies.length > MOST_PLACED) {
    throw new SieveError(
      'out-of-range',
      `${copies.length} copies are more than an atlas holds, ${MOST_PLACED}.`,
      'Take fewer copies, or make two atlases.',
    );
  }
  const outlines = new Map<string, Outline>();
  const groups = [...new Set(parts.map((p) => p.group ?? ''))];
  const packed = copies.map(({ part, copy }): Packed => {
    checkpoint();
    const kept = keep ? params.placed.find((p) => p.part === part.sha256 && p.copy === copy) : undefined;
    return {
      outline: outlineFor(part, outlines, pictureOf),
      tall: tallOf(part, params.levelled),
      group: groups.indexOf(part.group ?? ''),
      kept,
    };
  });
  const ratio = height / width;
  const how: PackHow = { ratio, turning: params.turning, gutter: params.gutter / width, checkpoint };
  const byOutline = pack(packed, how);
  const boxes = packBoxes(packed, how);
  const byBoxes = boxes ? usedArea(packed, boxes, ratio) : 0;
  // of parts that fill their boxes nothing is gained by outlines, whose cells cost a little
  const better = boxes && byBoxes > usedArea(packed, byOutline, ratio) && packed.every((p) => !p.kept && p.group === 0);
  const places = better ? boxes : byOutline;
  return {
    placed: places.map(({ x, y, turn, tall }, i) => ({
      part: copies[i].part.sha256,
      copy: copies[i].copy,
      x: rounded(x),
      y: rounded(y),
      turn,
      tall: rounded(tall),
    })),
    used: usedArea(packed, places, ratio),
    byBoxes,
  };
}

function outlineFor({ sha256, name }: RecipePart, known: Map<string, Outline>, pictureOf: PartPicture): Outline {
  const found = known.get(sha256);
  if (found) return found;
  const picture = pictureOf(sha256);
  if (!picture) {
    throw new SieveError('missing-source', `The picture of the part ${name} is missing.`, 'Take it out, or reload.');
  }
  const outline = outlineOf(picture);
  known.set(sha256, outline);
  return outline;
}

/** How tall a part is to be against others: by its height in metres, or by its texels. */
function tallOf({ width, height, metres, weight = 1 }: RecipePart, levelled: boolean): number {
  return weight * (levelled && metres ? (metres * height) / width : height / TEXELS_A_METRE);
}

/** Density of parts that say no size, beside ones that do. */
const TEXELS_A_METRE = 2048;

/** To a millionth of the width: less than a texel's hundredth at 8192. */
const rounded = (v: number) => Math.round(v * 1e6) / 1e6;
