import type { PieceDoc } from '../piece/piece-doc.ts';
import { partsEnlarged } from '../recipe/grow.ts';
import { recipeKey, type Recipe } from '../recipe/recipe.ts';
import { bladesOf, spineOf } from '../recipe/tuft.ts';
import type { SnagCheck } from './snag.ts';

/** Parts that are drawn this many times as large as they are still look sharp. */
const STILL_SHARP = 1.05;

function withFirst(doc: PieceDoc, change: (recipe: Recipe) => Recipe): PieceDoc {
  const [first, ...others] = doc.sources;
  if (!first?.recipe) return doc;
  const recipe = change(first.recipe);
  return { ...doc, sources: [{ ...first, recipe, sha256: recipeKey(recipe) }, ...others] };
}

/** Parts are drawn larger than they are. */
export const partsNotSharp: SnagCheck = ({ doc }) => {
  const recipe = doc.sources[0]?.recipe;
  const enlarged = recipe ? partsEnlarged(recipe) : 0;
  if (!recipe || enlarged < STILL_SHARP) return null;
  const [width, height] = [recipe.width, recipe.height].map((side) => Math.max(16, Math.floor(side / enlarged)));
  return {
    id: 'parts-not-sharp',
    text: `Blurred parts: drawn at up to ${enlarged.toFixed(1)} times their size.`,
    remedy: {
      label: `Grow it at ${width} × ${height}`,
      apply: (d) => withFirst(d, (r) => ({ ...r, width, height })),
    },
  };
};

type Tuft = Extract<Recipe, { kind: 'tuft' }>;

/** How many blades reach over the left, right or upper border. */
function overTheBorder({ params, seed, width, height, version }: Tuft): number {
  return bladesOf(params, seed, { ratio: height / width, version }).filter((blade) =>
    spineOf(blade).some(({ x, y }) => x < 0 || x > 1 || y < 0),
  ).length;
}

/** More than this many blades are no longer looked at one by one. */
const MOST_LOOKED_AT = 600;
/** A blade may hang over now and then. */
const FEW = 0.03;

/** Blades are cut off by the border of the card. */
export const bladesCutOff: SnagCheck = ({ doc }) => {
  const recipe = doc.sources[0]?.recipe;
  if (recipe?.kind !== 'tuft' || recipe.params.blades > MOST_LOOKED_AT) return null;
  const over = overTheBorder(recipe);
  if (over <= FEW * recipe.params.blades) return null;
  const shorter = (by: number): Tuft => {
    const envelope = recipe.params.envelope.map((v) => Math.round(v * by * 1000) / 1000);
    return { ...recipe, params: { ...recipe.params, envelope } };
  };
  return {
    id: 'blades-cut-off',
    text: `Cut off: ${over} blades reach over the border of the card.`,
    remedy: {
      label: 'Make them shorter',
      apply: (d) => {
        let by = 0.95;
        while (by > 0.3 && overTheBorder(shorter(by)) > FEW * recipe.params.blades) by -= 0.05;
        return withFirst(d, () => shorter(by));
      },
    },
  };
};
