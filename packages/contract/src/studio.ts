import { z } from './zod.ts';
import { errorBodySchema } from './job.ts';

const STUDIO_PARTS = ['sources', 'hand-offs', 'history', 'strokes', 'pictures'] as const;

/** What takes room in a studio; all in bytes. */
export const studioSchema = z.object({
  folder: z.string(),
  /** The file and its log, as they lie on the disk. */
  bytes: z.number(),
  /** Left on the disk. */
  left: z.number(),
  pieces: z.int(),
  deletedPieces: z.int(),
  /** Those that can be restored, deleted last first; as many as fit on a page. */
  deleted: z.array(z.object({ id: z.string(), name: z.string(), deletedAt: z.string() })),
  parts: z.array(z.object({ what: z.enum(STUDIO_PARTS), bytes: z.number(), count: z.int() })),
  /** Files that nothing refers to; they are deleted after so many days. */
  unnamed: z.object({ bytes: z.number(), count: z.int() }),
  keepDays: z.int(),
  /** Inside the file, given back when something is freed. */
  empty: z.number(),
  backups: z.array(z.object({ name: z.string(), bytes: z.number(), madeAt: z.string() })),
  /** Hours between backups; 0: none are made. */
  backupHours: z.int(),
  /** Why the newest backup could not be made. */
  backupProblem: errorBodySchema.nullable(),
});
export type Studio = z.infer<typeof studioSchema>;

export const freedSchema = z.object({ files: z.int(), pieces: z.int(), bytes: z.number() });
export type Freed = z.infer<typeof freedSchema>;

/** What looking a studio over came to: how much of each was looked at, and what is wrong. */
export const studioCheckSchema = z.object({
  files: z.int(),
  pieces: z.int(),
  entries: z.int(),
  strokes: z.int(),
  found: z.array(z.string()),
});
export type StudioCheck = z.infer<typeof studioCheckSchema>;
