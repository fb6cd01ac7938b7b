import { NAME_LIMITS, NAMED_STATES, type NamedState } from '@lithe-sieve/core';
import { z } from './zod.ts';

export const patternSchema = z.string().min(1).max(NAME_LIMITS.pattern);
const word = z
  .string()
  .min(1)
  .max(NAME_LIMITS.word)
  .regex(/^[A-Za-z0-9._-]+$/, { message: 'A word of a name has letters, digits, _, - and . alone.' });

/** Names inside of scenes, and words for states. */
export const namingSchema = z.strictObject({
  material: patternSchema.optional(),
  mesh: patternSchema.optional(),
  words: z
    .strictObject(
      Object.fromEntries(NAMED_STATES.map((s) => [s, word.optional()])) as Record<
        NamedState,
        z.ZodOptional<typeof word>
      >,
    )
    .optional(),
});
