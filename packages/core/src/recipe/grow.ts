import { SieveError } from '../errors.ts';
import { MAPS, type MapName } from '../raster/maps.ts';
import { allocate16, makePicture, type Picture, type Raster, type Samples } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';
import { DRAFT_ROWS, ROWS } from './band.ts';
import { paintScene } from './paint.ts';
import type { RecipeFrame, RecipeKind } from './kind.ts';
import type { Recipe, RecipeKindName, RecipeParams } from './recipe.ts';
import { stampOf } from './stamp.ts';
import type { Scene } from './scene.ts';
import { linearOf } from './tints.ts';
import { MOST_SHAPES, WorkMeter } from './work-meter.ts';
import { atlas } from './atlas/atlas.ts';
import { spray } from './spray.ts';
import { strands } from './strands.ts';
import { tuft } from './tuft.ts';
import { weave } from './weave/weave.ts';

export const RECIPE_KINDS: { [K in RecipeKindName]: RecipeKind<RecipeParams[K]> } = {
  tuft,
  spray,
  strands,
  weave,
  atlas,
};
export const RECIPE_KIND_NAMES = Object.keys(RECIPE_KINDS) as RecipeKindName[];

/** The kind of a recipe, widened. */
export function recipeKind(name: RecipeKindName): RecipeKind<Recipe['params']> {
  return RECIPE_KINDS[name];
}

export function makeRecipe<K extends RecipeKindName>(
  kind: K,
  {
    seed = 1,
    width = 2048,
    height = 2048,
    ...params
  }: { seed?: number; width?: number; height?: number } & Partial<RecipeParams[K]> = {},
): Recipe {
  const { defaults, version } = RECIPE_KINDS[kind];
  return { kind, version, seed, width, height, params: copyOf({ ...defaults, ...params }) } as unknown as Recipe;
}

/** What a recipe gives: its picture, with the share that is covered as alpha, and maps. */
export interface GrownSource {
  picture: Picture;
  maps: Map<MapName, Raster<Samples>>;
}

/** Maps that come with every recipe. */
export const RECIPE_MAPS = [
  'height',
  'normal',
  'translucency',
  'tintId',
  'rootTip',
] as const satisfies readonly MapName[];

/** Pictures of parts by the SHA-256 of their files. */
export type PartPicture = (sha256: string) => Picture | undefined;
/** Maps of parts, see {@link Part}, by the SHA-256 of their files. */
export type PartRelief = (sha256: string) => Raster<Uint16Array> | undefined;

export interface GrowHow {
  /** Else the picture alone. */
  withMaps?: boolean;
  /** Wanted soon rather than fine. */
  draft?: boolean;
  pictureOf?: PartPicture;
  /** Asked where maps are grown. */
  reliefOf?: PartRelief;
}

function frameOf(
  { width, height, version, parts = [] }: Recipe,
  { pictureOf, reliefOf, withMaps = true, draft = false }: GrowHow,
  look: () => void,
): RecipeFrame {
  const stamps = parts.map(({ sha256, name, relief, maps }) => {
    const picture = pictureOf?.(sha256);
    const deep = withMaps && relief ? reliefOf?.(relief) : undefined;
    const complete = picture && (deep || !withMaps || !relief);
    if (complete) return stampOf(picture, deep, maps);
    throw new SieveError(
      'missing-source',
      `The picture of the part ${name} is missing.`,
      'Take the part out, or reload the page.',
    );
  });
  const ratio = height / width;
  return { width, ratio, parts, stamps, draft, version, meter: new WorkMeter(width, ratio, look) };
}

/** Memory of a shape of a scene with what sorts and paints it and what is left of building it, measured. */
const SHAPE_BYTES = 800;

/** About how many shapes a recipe has at the most: a million take several seconds. */
export function recipeShapes({ kind, params, width, height }: Recipe): number {
  return Math.min(MOST_SHAPES, recipeKind(kind).shapes(params, height / width));
}

/** About the memory that drawing a recipe takes at the most beside the maps that it fills. */
export function sceneBytes(recipe: Recipe): number {
  return SHAPE_BYTES * recipeShapes(recipe);
}

/** How many times its own size a part is drawn at the most: above 1 it is no longer sharp. */
export function partsEnlarged(recipe: Recipe): number {
  const { kind, params, parts = [], width, height } = recipe;
  return parts.length === 0 ? 0 : (recipeKind(kind).enlarged?.(params, parts, width, height / width) ?? 0);
}

/**
 * The shapes of a recipe.
 *
 * @param look - Called now and then; throws to give up.
 * @throws {@link SieveError} `unsupported` for one of a newer version, `too-large` for more than can be drawn.
 */
export function sceneOf(recipe: Recipe, how: GrowHow = {}, look: () => void = () => undefined): Scene {
  const kind = recipeKind(recipe.kind);
  if (recipe.version > kind.version) {
    throw new SieveError(
      'unsupported',
      `This recipe is of version ${recipe.version}; version ${kind.version} is the newest known here.`,
      'Open it with the program that it was made with, or a newer one.',
    );
  }
  return kind.scene(recipe.params, recipe.seed, frameOf(recipe, how, look));
}

/** What growing asks of its host; without `checkpoint` it cannot be given up but between bands. */
export type GrowWork = Pick<Work, 'scale' | 'allocate' | 'bands'> & Partial<Pick<Work, 'checkpoint'>>;

/**
 * Draws a recipe at a size: the same places at every size, finer edges at a larger one.
 *
 * @param env - Its `scale` is of the recipe's own size.
 * @throws {@link SieveError} `unsupported`, `missing-source` without the picture of a part, `too-large` for more than can be
 *   drawn, and what `bands` and `checkpoint` throw.
 */
export function growRecipe(recipe: Recipe, env: GrowWork, how: GrowHow = {}): GrownSource {
  const scene = sceneOf(recipe, how, () => env.checkpoint?.(0)); // before anything is allocated
  const width = Math.max(1, Math.floor(recipe.width * env.scale));
  const height = Math.max(1, Math.floor(recipe.height * env.scale));
  const texels = width * height;
  const { allocate } = env;
  const rgba = allocate(4 * texels);
  const maps =
    (how.withMaps ?? true)
      ? {
          height: allocate16(texels, allocate),
          normal: allocate16(3 * texels, allocate),
          translucency: allocate(texels),
          tintId: allocate(texels),
          rootTip: allocate(texels),
        }
      : null;
  const kind = recipeKind(recipe.kind);
  const ground = linearOf(kind.ground(recipe.params));
  const finer = (!how.draft && kind.finer?.(recipe.params, { width, height }, recipe.version)) || 1;
  paintScene(scene, { width, height, rgba, maps }, ground, env, how.draft ? DRAFT_ROWS : ROWS, finer);
  const rasters = maps ? RECIPE_MAPS.map((name) => [name, rasterOf(name, width, height, maps[name])] as const) : [];
  return { picture: makePicture(width, height, rgba), maps: new Map(rasters) };
}

function rasterOf(name: MapName, width: number, height: number, data: Samples): Raster<Samples> {
  return { width, height, channels: MAPS[name].channels, data };
}

const copyOf = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;
