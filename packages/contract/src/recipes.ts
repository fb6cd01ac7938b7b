import {
  LEAF_ORDERS,
  LEAF_OVERLAPS,
  LEAF_SHAPES,
  LIMITS,
  MOST_BLADES,
  MOST_GUIDES,
  ATLAS_TURNINGS,
  MOST_COPIES,
  MOST_PLACED,
  PART_MAPS,
  PART_WEIGHT,
  MOST_STRANDS,
  RECIPE_KINDS,
  RECIPE_SEED,
  RECIPE_SIDE,
  TUFT_STREWINGS,
  WEAVE_PATTERNS,
  type Range,
  type Recipe,
  type RecipeKindName,
} from '@lithe-sieve/core';
import { z } from './zod.ts';
import { idSchema, sha256Schema } from './ids.ts';
import { rgb } from './values.ts';

/** What stands for a recipe's texels. */
export const recipeKeySchema = z.string().regex(/^recipe:[0-9a-f]{32}$/);

const within = ({ min, max }: Range) => z.number().min(min).max(max);
const whole = ({ min, max }: Range) => z.int().min(min).max(max);
const place = z.number().min(-1).max(2);

const part = z.strictObject({
  sha256: sha256Schema,
  name: z.string().min(1).max(LIMITS.pieceName),
  width: z.int().min(1).max(LIMITS.side),
  height: z.int().min(1).max(LIMITS.side),
  piece: idSchema,
  revision: z.int().min(0),
  relief: sha256Schema.optional(),
  maps: z.array(z.enum(PART_MAPS)).max(PART_MAPS.length).optional(),
  variation: whole(RECIPE_SEED).optional(),
  metres: z.number().positive().max(10_000).optional(),
  copies: z.int().min(1).max(MOST_COPIES).optional(),
  weight: within(PART_WEIGHT).optional(),
  group: z.string().max(LIMITS.pieceName).optional(),
});

/** The schema of a kind of recipe: its numbers by core's ranges, and the parameters that are none. */
function recipe<K extends RecipeKindName, S extends z.ZodRawShape>(kind: K, others: S) {
  const { version, mostParts } = RECIPE_KINDS[kind];
  const optional = RECIPE_KINDS[kind].optional ?? [];
  const ranges = RECIPE_KINDS[kind].ranges as Record<string, Range>;
  const numbers = Object.entries(ranges).map(([name, range]) => [
    name,
    optional.includes(name) ? within(range).optional() : within(range),
  ]);
  const newer = `It holds a recipe of a newer version than ${version}, the newest known here: start the newer Lithe Sieve.`;
  return z.strictObject({
    kind: z.literal(kind),
    version: z.int().min(1).max(version, { message: newer }),
    seed: whole(RECIPE_SEED),
    width: whole(RECIPE_SIDE),
    height: whole(RECIPE_SIDE),
    ...(mostParts ? { parts: z.array(part).max(mostParts).optional() } : {}),
    params: z.strictObject({ ...Object.fromEntries(numbers), ...others }),
  });
}

const pinned = z.strictObject({
  blade: z.int().min(0).max(MOST_BLADES),
  seed: whole(RECIPE_SEED),
  x: place,
  y: place,
  turn: z.number().min(-180).max(180),
  stretch: z.number().min(0.1).max(4),
  order: z.enum(['front', 'back']).optional(),
});

const placed = z.strictObject({
  part: sha256Schema,
  copy: z
    .int()
    .min(0)
    .max(MOST_COPIES - 1),
  x: place,
  y: place,
  turn: z.number().min(-360).max(360),
  tall: z.number().min(0).max(4),
});

export const recipeSchema = z.discriminatedUnion('kind', [
  recipe('tuft', {
    blades: z.int().min(0).max(MOST_BLADES),
    clumps: z.int().min(1).max(60),
    strewing: z.enum(TUFT_STREWINGS),
    envelope: z.array(z.number().min(0).max(2)).min(1).max(16),
    colour: rgb,
    otherColour: rgb,
    pinned: z.array(pinned).max(MOST_BLADES),
  }),
  recipe('spray', {
    perWhorl: z.int().min(2).max(16),
    places: z.int().min(0).max(200),
    branches: z.int().min(0).max(24),
    order: z.enum(LEAF_ORDERS),
    shape: z.enum(LEAF_SHAPES),
    overlap: z.enum(LEAF_OVERLAPS),
    colour: rgb,
    otherColour: rgb,
    stemColour: rgb,
  }),
  recipe('strands', {
    strands: z.int().min(0).max(MOST_STRANDS),
    clumps: z.int().min(1).max(200),
    innerClumps: z.int().min(1).max(40),
    guides: z.array(z.tuple([place, place, place, place, place, place, place, place])).max(MOST_GUIDES),
    colour: rgb,
    tipColour: rgb,
    otherColour: rgb,
  }),
  recipe('weave', {
    pattern: z.enum(WEAVE_PATTERNS),
    corners: z.tuple([place, place, place, place, place, place, place, place]).optional(),
    seamless: z.boolean(),
    colour: rgb,
    otherColour: rgb,
    weather: rgb,
  }),
  recipe('atlas', {
    turning: z.enum(ATLAS_TURNINGS),
    levelled: z.boolean(),
    placed: z.array(placed).max(MOST_PLACED),
  }),
]) as unknown as z.ZodType<Recipe>;
