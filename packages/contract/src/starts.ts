import { z } from './zod.ts';
import { idSchema } from './ids.ts';
import { keptNameSchema } from './kept.ts';
import { pieceDocSchema } from './piece.ts';

/** Characters of the document: all starts are listed at once. */
const MOST_DOC = 400_000;
/** Characters of a small picture that a start is known by. */
const MOST_PICTURE = 200_000;

/** What worked for one picture, to start from with the next. */
export const startSchema = z.strictObject({
  /** The piece as it was; its sources say what its steps read. */
  doc: pieceDocSchema.refine((doc) => JSON.stringify(doc).length <= MOST_DOC, {
    message: 'A piece of so many settings cannot be kept as a start.',
  }),
  /** Small, as a data URL. */
  picture: z
    .string()
    .max(MOST_PICTURE)
    .regex(/^data:image\/png;base64,[A-Za-z0-9+/]+=*$/, { message: 'The picture of a start is a PNG.' }),
});
export type Start = z.infer<typeof startSchema>;

/** Starts kept by name, at the most. */
export const MOST_STARTS = 60;

export const namedStartSchema = z.strictObject({ id: idSchema, name: keptNameSchema.shape.name, start: startSchema });
/** `damaged`: kept ones that cannot be read any more. */
export const startListSchema = z.object({ starts: z.array(namedStartSchema), damaged: z.int() });
