import { z } from './zod.ts';
import { errorBodySchema } from './job.ts';
import { storedMeshSchema, storedSourceSchema } from './piece.ts';
import { pathSchema } from './ids.ts';

/** Folders whose files may be followed. */
export const foldersSchema = z.object({
  folders: z.array(z.string()),
  /** Folders may be added from the page: the server answers to this machine only. */
  mayAdd: z.boolean(),
});
export type Folders = z.infer<typeof foldersSchema>;

export const addFolderSchema = z.strictObject({ path: pathSchema });

/** What can be followed. */
export const FOLLOWABLE = ['pictures', 'meshes'] as const;
export type Followable = (typeof FOLLOWABLE)[number];

/** What lies in an allowed folder, or in one below it: further folders, and files of a kind. */
export const folderListSchema = z.object({
  path: z.string(),
  folders: z.array(z.string()),
  files: z.array(z.object({ name: z.string(), path: z.string(), bytes: z.number(), modifiedAt: z.string() })),
});
export type FolderList = z.infer<typeof folderListSchema>;

/** The files that one stream follows: those of all pages of a browser. */
export const followSchema = z.strictObject({ paths: z.array(pathSchema).max(1024) });

/** What is reported about a followed file: a new version, or why there is none and the last good one stays. */
export const followEventSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('version'),
    path: z.string(),
    source: storedSourceSchema,
    /** Saved while it was looked at; else what was found when the looking began. */
    saved: z.boolean(),
  }),
  z.object({ kind: z.literal('mesh'), path: z.string(), mesh: storedMeshSchema, saved: z.boolean() }),
  z.object({ kind: z.literal('problem'), path: z.string(), error: errorBodySchema }),
]);
export type FollowEvent = z.infer<typeof followEventSchema>;
