import { WRAPS, type MaterialDescription } from '@lithe-sieve/core';
import { z } from './zod.ts';

const share = z.number().min(0).max(1);
const place = z.array(z.number()).length(3);

/** The JSON that describes a hand-off, for whoever reads one. */
export const materialDescriptionSchema = z.strictObject({
  form: z.literal('lithe-sieve-material'),
  version: z.literal(1),
  name: z.string().describe('Of the piece.'),
  width: z.int().min(1).describe('Texels of the whole texture.'),
  height: z.int().min(1),
  material: z.strictObject({
    mode: z.enum(['opaque', 'mask', 'blend']),
    cutoff: share.describe('In mode mask: opacity of at least this is kept.'),
    doubleSided: z.boolean(),
    opacity: share.describe('Multiplies opacity.'),
    emission: z.number().min(0).describe('Multiplies the picture of emission.'),
  }),
  kept: share.describe('Share of the texels that is kept.'),
  card: z.strictObject({
    min: place.describe('Corner of the box around it, metres, Y up.'),
    max: place,
    triangles: z.int().min(1),
  }),
  wrap: z.strictObject({ across: z.enum(WRAPS), down: z.enum(WRAPS) }).describe('What lies beside the texture.'),
  green: z.enum(['up', 'down']).describe('Which way green of normals goes.'),
  pictures: z.array(
    z.strictObject({
      file: z.string(),
      holds: z.string(),
      read: z.enum(['sRGB', 'data']).describe('How values are taken.'),
    }),
  ),
}) satisfies z.ZodType<MaterialDescription>;
