import {
  EFFORTS,
  EMISSION_MOST,
  FORMAT_NAMES,
  isRecipeKey,
  recipeKey,
  GREEN_WAYS,
  isFileName,
  LIMITS,
  PROFILES,
  SCENE_UNITS,
  TEXTURE_CONTAINERS,
  UP_AXES,
  type SceneUnit,
  SOURCE_ROLES,
  STROKE_LIMITS,
  type PieceDoc,
} from '@lithe-sieve/core';
import { namingSchema, patternSchema } from './naming.ts';
import { z } from './zod.ts';
import {
  cardFormSchema,
  cardMeshSchema,
  cardNormalsSchema,
  cardOutlineSchema,
  cardSetSchema,
  cardSidesSchema,
  cardWidthSchema,
} from './card.ts';
import { budgetSchema, packingSchema, targetSchema } from './packing.ts';
import { drawnSchema, levelsSchema } from './clip.ts';
import { idSchema, pathSchema, sha256Schema } from './ids.ts';
import { errorBodySchema } from './job.ts';
import { recipeKeySchema, recipeSchema } from './recipes.ts';
import { stepSchema } from './steps.ts';
import { strokeSchema } from './strokes.ts';
import { rgb, share } from './values.ts';
import { docVersionSchema } from './versions.ts';

const offset = z.int().min(-LIMITS.side).max(LIMITS.side);
const placeSchema = z.strictObject({ x: offset, y: offset });

export const pieceNameSchema = z.string().trim().min(1).max(LIMITS.pieceName);
const profileIds = PROFILES.map((p) => p.id);

export const pieceDocSchema = z
  .strictObject({
    schema: docVersionSchema,
    name: pieceNameSchema,
    sources: z
      .array(
        z
          .strictObject({
            id: idSchema,
            sha256: z.union([sha256Schema, recipeKeySchema]),
            fileName: z.string().min(1).max(LIMITS.fileName),
            recipe: recipeSchema.optional(),
            role: z.enum(SOURCE_ROLES).optional(),
            follows: pathSchema.optional(),
            place: placeSchema.optional(),
          })
          .refine(({ sha256, recipe }) => (recipe ? sha256 === recipeKey(recipe) : !isRecipeKey(sha256)), {
            message: 'The key of a source is not that of its recipe.',
          }),
      )
      .max(LIMITS.sources),
    run: z.array(stepSchema).max(64),
    material: z.strictObject({
      mode: z.enum(['opaque', 'mask', 'blend']),
      cutoff: share,
      doubleSided: z.boolean(),
      opacity: share,
      emission: z.number().min(0).max(EMISSION_MOST).optional(), // not there before version 11
    }),
    drawn: drawnSchema,
    levels: levelsSchema,
    cardWidth: cardWidthSchema,
    set: cardSetSchema.optional(),
    form: cardFormSchema.optional(),
    sides: cardSidesSchema.optional(),
    normals: cardNormalsSchema.optional(), // not there before version 10
    mesh: cardMeshSchema.optional(),
    outline: cardOutlineSchema.optional(),
    handOff: z.strictObject({
      profile: z.enum(profileIds),
      pattern: patternSchema,
      naming: namingSchema.optional(), // not there before version 13
      green: z.enum(GREEN_WAYS).default('OpenGL'), // documents from before there were normals have none
      effort: z.enum(EFFORTS).optional(), // not there before version 6
      space: z.strictObject({ unit: z.enum(Object.keys(SCENE_UNITS) as SceneUnit[]), up: z.enum(UP_AXES) }).optional(), // not there before version 13
      container: z.enum(TEXTURE_CONTAINERS).optional(), // not there before version 13
      sway: z.boolean().optional(), // not there before version 8
      packing: packingSchema.optional(), // not there before version 11
      target: targetSchema.optional(), // not there before version 12
      budget: budgetSchema.optional(), // as target
    }),
  })
  .refine((doc) => unique(doc.sources) && unique(doc.run), { message: 'Two sources or two steps share an id.' });

function unique(entries: { id: string }[]): boolean {
  return new Set(entries.map((e) => e.id)).size === entries.length;
}

/** Fails to compile when the schema and core's document drift apart. */
export type DocFitsSchema = z.infer<typeof pieceDocSchema> extends PieceDoc ? true : never;
export const docFitsSchema: DocFitsSchema = true;

export const sourceFactsSchema = z.object({
  format: z.enum([...FORMAT_NAMES, 'recipe']),
  width: z.int(),
  height: z.int(),
  channels: z.union([z.literal(1), z.literal(2), z.literal(3), z.literal(4)]),
  bitDepth: z.int(),
  palette: z.boolean(),
  alpha: z.enum(['none', 'present', 'opaque', 'transparent']),
  alphaBelow: z.number().optional(),
  grey: z.boolean(),
  blackOrWhite: z.number(),
  border: z.object({ colour: rgb, share: z.number(), spread: z.number() }),
  notes: z.array(z.string()),
});

/** What an upload answers. */
export const storedSourceSchema = z.object({
  sha256: sha256Schema,
  fileName: z.string(),
  bytes: z.int(),
  facts: sourceFactsSchema,
  /** The same bytes were here before. */
  known: z.boolean(),
});
export type StoredSource = z.infer<typeof storedSourceSchema>;

const meshCount = z.int().min(0);
export const meshFactsSchema = z.object({
  kind: z.literal('mesh'),
  format: z.enum(['obj', 'glb', 'gltf']),
  vertices: meshCount,
  triangles: meshCount,
  slots: z.array(z.object({ name: z.string(), triangles: meshCount })),
  size: z.tuple([z.number(), z.number(), z.number()]),
  area: z.number().min(0),
  uvArea: z.number().min(0),
  uvUsed: share,
  uvShared: share,
  uvBeyond: z.boolean(),
  mirrored: meshCount,
  withoutArea: meshCount,
  withoutUvArea: meshCount,
  openSides: meshCount,
  notes: z.array(z.string()),
});

/** What an upload of a mesh answers. */
export const storedMeshSchema = z.object({
  sha256: sha256Schema,
  fileName: z.string(),
  bytes: z.int(),
  facts: meshFactsSchema,
});
export type StoredMesh = z.infer<typeof storedMeshSchema>;

/** A change as JSON patch operations in Immer's form: paths are arrays of keys. */
export const patchSchema = z.strictObject({
  op: z.enum(['add', 'remove', 'replace']),
  path: z.array(z.union([z.string().max(40), z.int().min(0).max(STROKE_LIMITS.strokes)])).max(8),
  value: z.unknown().optional(),
});
export const patchesSchema = z.array(patchSchema).max(LIMITS.patches);
export type WirePatch = z.infer<typeof patchSchema>;

export const historyEntrySchema = z.object({
  label: z.string().max(LIMITS.label),
  patches: patchesSchema,
  inverse: patchesSchema,
  /** Made by a followed file that was saved, not by hand. */
  followed: z.boolean().optional(),
});
export type HistoryEntry = z.infer<typeof historyEntrySchema>;

/** A piece as the Bench opens it. `position` entries of the history are done, the rest can be redone. */
export const pieceSchema = z.object({
  id: idSchema,
  revision: z.int(),
  doc: pieceDocSchema,
  facts: z.record(z.string(), sourceFactsSchema),
  history: z.array(historyEntrySchema),
  position: z.int(),
  /** The newest changes: what a page that ended had sent without an answer. */
  lastEdits: z.array(z.string()),
});
export type Piece = z.infer<typeof pieceSchema>;

/** In the answer with the picture that the Bench begins with: width and height of the full size, texels. */
export const FULL_SIDES_HEADER = 'X-Full-Sides';

export const pieceSummarySchema = z.object({
  id: idSchema,
  revision: z.int(),
  name: z.string(),
  width: z.int(),
  height: z.int(),
  mode: z.enum(['opaque', 'mask', 'blend']),
  steps: z.int(),
  coverage: z.number().nullable(),
  snags: z.array(z.string()),
  /** Whether coverage and snags are of this revision; if not, they are being computed. */
  fresh: z.boolean(),
  /** Which of them are of its full size; the others are estimated from a smaller one. */
  exact: z.object({ coverage: z.boolean(), snags: z.boolean(), picture: z.boolean() }),
  /** Why the piece cannot be opened or computed. */
  problem: errorBodySchema.nullable(),
  updatedAt: z.string(),
  handedOffAt: z.string().nullable(),
});
export type PieceSummary = z.infer<typeof pieceSummarySchema>;
/** Pieces listed in one answer, at the most. */
export const PIECES_AT_ONCE = 60;
/** A part of the Stock; `found` of `total` pieces are what was searched for. */
export const pieceListSchema = z.object({ total: z.int(), found: z.int(), pieces: z.array(pieceSummarySchema) });
export type PieceList = z.infer<typeof pieceListSchema>;

/** Name of a file that is brought in. */
export const fileNameSchema = z
  .string()
  .trim()
  .min(1)
  .max(LIMITS.fileName)
  .refine(isFileName, { message: 'No system can keep a file of this name: rename it.' });

export const createPieceSchema = z.strictObject({
  name: pieceNameSchema,
  sources: z
    .array(
      z.strictObject({
        sha256: sha256Schema,
        fileName: fileNameSchema,
        /** What it was said to be; without it, what its name and its texels say. */
        role: z.enum(SOURCE_ROLES).optional(),
        place: placeSchema.optional(),
      }),
    )
    .min(1)
    .max(LIMITS.sources),
});
/** A whole document as a piece of its own: the version of a second tab that was refused, or a duplicate. */
export const copyPieceSchema = z.strictObject({
  /** Id of the new piece: a copy that is asked for twice, since its answer was lost, is made once. */
  id: idSchema.optional(),
  doc: pieceDocSchema,
  /** Those it names that the server does not have: changes that never got there. */
  strokes: z.array(strokeSchema).max(STROKE_LIMITS.strokes).optional(),
});
export type CopyPiece = z.infer<typeof copyPieceSchema>;

/** By the id the server knows a change that it has already, where its answer was lost. */
const based = { baseRevision: z.int(), editId: idSchema.optional() };

/** One change of a piece, based on a revision. */
export const editSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    ...based,
    kind: z.literal('do'),
    entry: historyEntrySchema,
    /** Strokes that the change is the first to name. */
    strokes: z.array(strokeSchema).max(STROKE_LIMITS.strokes).optional(),
  }),
  z.strictObject({ ...based, kind: z.literal('undo') }),
  z.strictObject({ ...based, kind: z.literal('redo') }),
]);
export type Edit = z.infer<typeof editSchema>;

/** The longer side of the picture that the Bench begins with, texels. */
export const VIEW_SIDE = 512;
const VIEW_CHARACTERS = 4 * 1024 * 1024;
const SNAG_LIMITS = { characters: 1000, count: 100 };

/** What a page computed of a piece at full size. */
export const fullSizeSchema = z.strictObject({
  revision: z.int(),
  coverage: share,
  /** As the fit leaves it. */
  size: z.strictObject({ width: z.int().min(1).max(LIMITS.side), height: z.int().min(1).max(LIMITS.side) }).optional(),
  /** What the Bench says of it. */
  snags: z.array(z.string().max(SNAG_LIMITS.characters)).max(SNAG_LIMITS.count).optional(),
  /** Colour and alpha, sides of at most {@link VIEW_SIDE}: a PNG in base64. */
  view: z.base64().max(VIEW_CHARACTERS).optional(),
});
export type FullSize = z.infer<typeof fullSizeSchema>;

export const editResultSchema = z.object({ revision: z.int(), position: z.int() });
export const pieceRefSchema = z.object({ id: idSchema });

/** After a deletion: names of pieces that hold a copy, the last changed first; as many as are worth reading. */
export const deletedPieceSchema = z.object({ usedBy: z.array(z.string()) });
export type DeletedPiece = z.infer<typeof deletedPieceSchema>;
