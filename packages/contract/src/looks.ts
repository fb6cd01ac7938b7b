import { LIMITS, STAND_LIGHT_RANGES, STREWN, THINGS_BEHIND, TONES } from '@lithe-sieve/core';
import { z } from './zod.ts';
import { idSchema, sha256Schema } from './ids.ts';
import { rgb } from './values.ts';
import { keptNameSchema } from './kept.ts';

const { name } = keptNameSchema.shape;

export const behindSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('things'), things: z.enum(THINGS_BEHIND) }),
  z.strictObject({ kind: z.literal('colour'), colour: rgb }),
  z.strictObject({ kind: z.literal('piece'), id: idSchema, name }),
  z.strictObject({ kind: z.literal('photograph'), sha256: sha256Schema, name: z.string().min(1).max(LIMITS.fileName) }),
]);

const within = (range: keyof typeof STAND_LIGHT_RANGES) =>
  z.number().min(STAND_LIGHT_RANGES[range].min).max(STAND_LIGHT_RANGES[range].max);

/** How a card is looked at on the Stand. */
export const standLookSchema = z.strictObject({
  /** Radians from the front, and above the horizon. */
  azimuth: z.number().min(-1000).max(1000),
  elevation: z.number().min(-2).max(2),
  /** Times as far as where the whole card is seen. */
  distance: z.number().min(1e-3).max(1e5),
  /** Degrees from top to bottom. */
  fieldOfView: z.number().min(1).max(170),
  /** By the name that the Stand has for it; one that it does not know is the first one. */
  sky: z.string().min(1).max(40),
  light: z.strictObject({
    height: within('height'),
    turn: within('turn'),
    strength: within('strength'),
    warmth: within('warmth'),
    size: within('size'),
    exposure: within('exposure'),
    tone: z.enum(TONES),
  }),
  behind: behindSchema,
  copies: z.int().min(1).max(STREWN.most),
});
export type StandLook = z.infer<typeof standLookSchema>;

/** Views kept by name, at the most. */
export const MOST_VIEWS = 100;

export const viewSchema = z.strictObject({ id: idSchema, name, look: standLookSchema });
/** A view of the Stand that the studio keeps by its name, for every piece. */
export type NamedView = z.infer<typeof viewSchema>;
/** `damaged`: kept ones that cannot be read any more. */
export const viewListSchema = z.object({ views: z.array(viewSchema), damaged: z.int() });
export type ViewList = z.infer<typeof viewListSchema>;
