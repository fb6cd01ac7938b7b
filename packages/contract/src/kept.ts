import { LIMITS } from '@lithe-sieve/core';
import { z } from './zod.ts';

/** What something is called that a studio keeps by name. */
export const keptNameSchema = z.strictObject({ name: z.string().trim().min(1).max(LIMITS.pieceName) });
