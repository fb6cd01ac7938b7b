import {
  FORM_KINDS,
  FORM_RANGES,
  LIMITS,
  LINE_PLACES,
  LINE_REACH,
  MESH_AXES,
  MESH_METRES,
  NORMAL_KINDS,
  OUTLINE_CORNERS,
  OUTLINE_DOWN_TO,
  PLACEMENT_RANGES,
  SET_APART,
  SET_BOW,
  setCards,
  SET_KINDS,
  SIDES_APART,
} from '@lithe-sieve/core';
import { pathSchema, sha256Schema } from './ids.ts';
import { rgb } from './values.ts';
import { z } from './zod.ts';

const within = (most: number) => z.number().min(-most).max(most);

export const cardSetSchema = z
  .strictObject({
    kind: z.enum(SET_KINDS),
    cards: z.int(),
    apart: z.number().min(SET_APART.min).max(SET_APART.max),
    bow: z.number().min(SET_BOW.min).max(SET_BOW.max).optional(),
    line: z
      .array(z.tuple([within(LINE_REACH), within(LINE_REACH)]))
      .min(LINE_PLACES.min)
      .max(LINE_PLACES.max)
      .optional(),
    byRegion: z.boolean(),
  })
  .refine(({ kind, cards }) => cards >= setCards(kind).min && cards <= setCards(kind).max, {
    message: 'A set has two cards at least, and no more than its kind may have.',
  });

const formNumbers = Object.entries(FORM_RANGES).map(([name, { min, max, digits }]) => {
  const number = z.number().min(min).max(max);
  return [name, digits === 0 ? number.int() : number];
});
export const cardFormSchema = z.strictObject({
  kind: z.enum(FORM_KINDS),
  ...(Object.fromEntries(formNumbers) as Record<keyof typeof FORM_RANGES, z.ZodNumber>),
});

/** Shares of the picture; three corners may lie beyond it. */
const place = z.number().min(-2).max(3);
const ring = z
  .array(z.tuple([place, place]))
  .min(3)
  .max(OUTLINE_CORNERS.max);
const outlineByHandSchema = z
  .strictObject({ polygons: z.array(ring).max(OUTLINE_CORNERS.max), holes: z.array(ring).max(OUTLINE_CORNERS.max) })
  .refine(({ polygons, holes }) => [...polygons, ...holes].reduce((n, r) => n + r.length, 0) <= OUTLINE_CORNERS.max, {
    message: `An outline has at most ${OUTLINE_CORNERS.max} corners.`,
  });

/** By the digest of a part, and which of its copies. */
const outlinesOfPartsSchema = z
  .record(z.string().min(1).max(100), outlineByHandSchema)
  .refine((parts) => Object.keys(parts).length <= LIMITS.outlinedParts, {
    message: `At most ${LIMITS.outlinedParts} parts have an outline set by hand.`,
  });

export const cardOutlineSchema = z.strictObject({
  corners: z.int().min(OUTLINE_CORNERS.min).max(OUTLINE_CORNERS.max),
  holes: z.boolean(),
  downTo: z.int().min(OUTLINE_DOWN_TO.min).max(OUTLINE_DOWN_TO.max),
  byHand: outlineByHandSchema.optional(),
  parts: outlinesOfPartsSchema.optional(),
  cuts: z.boolean().optional(),
});

/** Metres. */
export const cardWidthSchema = z.number().min(0.01).max(100);

export const cardNormalsSchema = z.strictObject({ kind: z.enum(NORMAL_KINDS), share: z.number().min(0).max(1) });

export const cardSidesSchema = z.strictObject({
  apart: z.number().min(SIDES_APART.min).max(SIDES_APART.max),
  rim: z.boolean(),
  tint: rgb,
});

const pictureSide = within(PLACEMENT_RANGES.size.max).refine((side) => Math.abs(side) >= PLACEMENT_RANGES.size.min, {
  message: 'A side of the picture is too small.',
});
const onPlane = within(PLACEMENT_RANGES.plane);
const meshPlacementSchema = z.strictObject({
  middle: z.tuple([within(PLACEMENT_RANGES.middle), within(PLACEMENT_RANGES.middle)]),
  size: z.tuple([pictureSide, pictureSide]),
  turn: within(PLACEMENT_RANGES.turn),
  plane: z
    .tuple([onPlane, onPlane, onPlane, onPlane])
    .refine(([a, b, c, d]) => a * d - b * c !== 0, { message: 'The plane of the placement has no area.' }),
});

export const cardMeshSchema = z.strictObject({
  sha256: sha256Schema,
  fileName: z.string().min(1).max(LIMITS.fileName),
  metres: z.number().min(MESH_METRES.min).max(MESH_METRES.max),
  up: z.enum(MESH_AXES),
  placement: meshPlacementSchema.optional(),
  cardWidth: cardWidthSchema.optional(),
  slot: z.string().min(1).max(LIMITS.meshSlot).optional(),
  follows: pathSchema.optional(),
});
