import { GREEN_WAYS } from '@lithe-sieve/core';
import { z } from './zod.ts';
import { idSchema } from './ids.ts';
import { keptNameSchema } from './kept.ts';
import { namingSchema, patternSchema } from './naming.ts';
import { budgetSchema, packingSchema, targetSchema } from './packing.ts';

/** A profile that a person made: its files with their channels, names, and what its target does. */
export const keptProfileSchema = z.strictObject({
  packing: packingSchema,
  target: targetSchema,
  pattern: patternSchema,
  naming: namingSchema.optional(),
  green: z.enum(GREEN_WAYS),
  budget: budgetSchema.optional(),
});
export type KeptProfile = z.infer<typeof keptProfileSchema>;

/** Profiles kept by name, at the most. */
export const MOST_PROFILES = 100;

export const namedProfileSchema = z.strictObject({
  id: idSchema,
  name: keptNameSchema.shape.name,
  profile: keptProfileSchema,
});
/** A profile that the studio keeps by its name, for every piece. */
export type NamedProfile = z.infer<typeof namedProfileSchema>;
/** `damaged`: kept ones that cannot be read any more. */
export const profileListSchema = z.object({ profiles: z.array(namedProfileSchema), damaged: z.int() });
export type ProfileList = z.infer<typeof profileListSchema>;

/** Version of the form of {@link profileFileSchema}. */
export const PROFILE_FORM = 1;
/** A profile in a file of its own, to go to another studio. */
export const profileFileSchema = z.strictObject({
  form: z.literal('lithe-sieve-profile'),
  version: z.int().min(1).max(PROFILE_FORM, { message: 'It was written by a newer version of Lithe Sieve.' }),
  name: keptNameSchema.shape.name,
  profile: keptProfileSchema,
});
export type ProfileFile = z.infer<typeof profileFileSchema>;
