import { GREEN_WAYS, MAP_NAMES } from '@lithe-sieve/core';
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

const fixSchema = z.object({ green: z.enum(GREEN_WAYS) });
/** What a simulated target makes of the files. */
export const receiverSchema = z.object({
  id: z.string(),
  label: z.string(),
  rule: z.string(),
  /** Whether the profile is for such a target. */
  meant: z.boolean(),
  agrees: z.boolean(),
  words: z.string(),
  remedy: z.string(),
  fix: fixSchema.optional(),
  levels: z.array(z.object({ side: z.int(), bench: z.number(), shown: z.number() })),
  wrongSide: z.int(),
  difference: z.number(),
  /** Of a PNG; null where it could read nothing. */
  picture: z.string().nullable(),
});
export type ReceiverReport = z.infer<typeof receiverSchema>;

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
  settings: z.array(z.string()).default([]), // as receivers
  receivers: z.array(receiverSchema).default([]), // reports from before there were any
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

/** Hand-offs of a piece that are kept with their files, the newest first. */
export const keptHandOffsSchema = z.array(z.object({ id: idSchema, report: handOffReportSchema }));
export type KeptHandOffs = z.infer<typeof keptHandOffsSchema>;

/** Every answer that is not 2xx. */
export const errorBodySchema = z.object({ code: z.string(), message: z.string(), remedy: z.string() });
