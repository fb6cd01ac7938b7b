import type { StartingPoint } from '../recipe/gallery.ts';
import { recipeKey, type Recipe } from '../recipe/recipe.ts';
import type { LevelSettings } from '../sieve/levels.ts';
import { makeStep, PIECE_DEFAULTS, type PieceDoc } from './piece-doc.ts';

/** A new piece of a recipe: its alpha is the mask, and what repeats without a seam is laid so. */
export function grownPiece({ name, recipe, cardWidth }: StartingPoint, makeId: () => string): PieceDoc {
  const packed = recipe.kind === 'atlas'; // its gutter is to hold the colours beside it
  return {
    ...PIECE_DEFAULTS,
    levels: levelsFor(recipe),
    name,
    cardWidth,
    sources: [{ id: makeId(), sha256: recipeKey(recipe), fileName: name, recipe, role: 'colour' }],
    run: [
      makeStep(makeId(), 'from-channel', { channel: 'alpha' }),
      ...(packed ? [makeStep(makeId(), 'bleed', {})] : []),
    ],
  };
}

function levelsFor({ params }: Recipe): LevelSettings {
  const wrap = 'seamless' in params && params.seamless ? 'repeat' : 'clamp';
  return { ...PIECE_DEFAULTS.levels, wrapAcross: wrap, wrapDown: wrap };
}
