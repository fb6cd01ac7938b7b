import { MAP_NAMES } from '@lithe-sieve/core';
import { z } from './zod.ts';
import { idSchema } from './ids.ts';
import { formerlySays } from './versions.ts';

export const startHandOffSchema = z.strictObject({
  revision: z.int(),
  /** Fingerprints of every map that the Bench shows, to compare with what the server computed; absent if not settled yet. */
  bench: z.partialRecord(z.enum(MAP_NAMES), z.string().length(16)).optional(),
});
export type StartHandOff = z.infer<typeof startHandOffSchema>;

export const checkSchema = z.object({ file: z.string(), what: z.string(), ok: z.boolean(), found: z.string() });

export const handOffReportSchema = z.object({
  piece: z.string(),
  revision: z.int(),
  profile: z.string(),
  writtenAt: z.string(),
  files: z.array(
    z.preprocess(
      formerlySays('contents'),
      z.object({ name: z.string(), contents: z.string(), bytes: z.int(), sha256: z.string() }),
    ),
  ),
  checks: z.array(checkSchema),
  ok: z.boolean(),
});
export type HandOffReport = z.infer<typeof handOffReportSchema>;

export const jobSchema = z.object({
  id: idSchema,
  pieceId: idSchema,
  state: z.enum(['waiting', 'running', 'done', 'failed', 'cancelled']),
  /** 0–1. */
  progress: z.number(),
  doing: z.string(),
  error: z.object({ code: z.string(), message: z.string(), remedy: z.string() }).nullable(),
  report: handOffReportSchema.nullable(),
});
export type Job = z.infer<typeof jobSchema>;

/** Every answer that is not 2xx. */
export const errorBodySchema = z.object({ code: z.string(), message: z.string(), remedy: z.string() });
