import { z } from './zod.ts';
import { errorBodySchema } from './job.ts';
import { pathSchema } from './ids.ts';

export const setOutputSchema = z.strictObject({ folder: pathSchema });

/** How a folder stands that is kept current with a piece. */
export const outputSchema = z.object({
  folder: z.string(),
  /**
   * `current`: it holds the newest revision. `waiting`: until edits settle, or others are done. `writing`. `paused`: it
   * holds what it held, for the reason that `error` says; the next edit tries again.
   */
  state: z.enum(['current', 'waiting', 'writing', 'paused']),
  /** What it holds; null: nothing yet. */
  revision: z.int().nullable(),
  files: z.array(z.string()),
  error: errorBodySchema.nullable(),
});
export type Output = z.infer<typeof outputSchema>;
