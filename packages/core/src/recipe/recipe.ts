import { digest } from '../math/digest.ts';
import type { AtlasParams } from './atlas/atlas.ts';
import type { RecipePart } from './part.ts';
import type { SprayParams } from './spray.ts';
import type { StrandsParams } from './strands.ts';
import type { TuftParams } from './tuft.ts';
import type { WeaveParams } from './weave/weave.ts';

export interface RecipeParams {
  tuft: TuftParams;
  spray: SprayParams;
  strands: StrandsParams;
  weave: WeaveParams;
  atlas: AtlasParams;
}
export type RecipeKindName = keyof RecipeParams;

/**
 * A source that is grown instead of brought in. The same recipe gives the same texels at every later version of the
 * program: a kind that is drawn differently gets a new `version`, and the earlier one stays.
 */
export type Recipe = {
  [K in RecipeKindName]: {
    kind: K;
    version: number;
    seed: number;
    /** Texels in full. */
    width: number;
    height: number;
    /** Pieces that stand in for what is drawn, as they were when they were taken; none where they are left out. */
    parts?: RecipePart[] | undefined;
    params: RecipeParams[K];
  };
}[RecipeKindName];

export const RECIPE_SEED = { min: 1, max: 999999, step: 1, digits: 0 } as const;
/** Sides that a recipe is grown at. */
export const RECIPE_SIDE = { min: 16, max: 8192, step: 1, digits: 0, unit: 'texels' } as const;

const KEY_START = 'recipe:';

/** Stands for the texels of a recipe, as the SHA-256 of its bytes does for a file: whatever order its keys are in. */
export function recipeKey(recipe: Recipe): string {
  return KEY_START + digest(sorted(recipe));
}

export function isRecipeKey(key: string): boolean {
  return key.startsWith(KEY_START);
}

function sorted(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(sorted).join()}]`;
  if (value === null || typeof value !== 'object') return JSON.stringify(value) ?? 'null';
  const entries = Object.entries(value).filter(([, v]) => v !== undefined);
  entries.sort(([a], [b]) => (a < b ? -1 : 1));
  return `{${entries.map(([k, v]) => `${JSON.stringify(k)}:${sorted(v)}`).join()}}`;
}
