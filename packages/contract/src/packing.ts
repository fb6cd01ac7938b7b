import {
  DEEP_EXTENSIONS,
  FILL_CHANNELS,
  MAP_NAMES,
  MIP_FILTERS,
  OPACITY_FROM,
  PACKED_AS,
  PACKED_BITS,
  PACKED_BLOCKS,
  PACKED_HALVINGS,
  PACKING_LIMITS,
  PICTURE_EXTENSIONS,
  TEXTURE_EXTENSIONS,
} from '@lithe-sieve/core';
import type { PackedAs } from '@lithe-sieve/core';
import { z } from './zod.ts';
import { share } from './values.ts';

const fill = z.union([
  z.strictObject({ map: z.enum(MAP_NAMES), channel: z.enum(FILL_CHANNELS), inverted: z.boolean() }),
  z.strictObject({ value: share }),
]);

/** Files whose channels a person fills. */
export const packingSchema = z
  .array(
    z
      .strictObject({
        name: z
          .string()
          .min(1)
          .max(PACKING_LIMITS.name)
          .regex(/^[A-Za-z0-9_-]+$/, {
            message: 'A file is called by letters, digits, _ and - alone.',
          }),
        format: z.enum([...PICTURE_EXTENSIONS, ...TEXTURE_EXTENSIONS]).optional(), // not there before version 12
        blocks: z.enum(['none', 'BC1', 'BC3', 'BC4', 'BC5', 'BC7']).optional(), // not there before version 13
        as: z.enum(Object.keys(PACKED_AS) as PackedAs[]),
        bits: z.literal(PACKED_BITS),
        halvings: z.literal(PACKED_HALVINGS),
        fills: z.array(fill).max(4),
      })
      .refine(({ format = 'png', bits }) => bits === 8 || DEEP_EXTENSIONS.includes(format), {
        message: 'Of these kinds of file, PNG and TIFF alone have 16 bits.',
      })
      .refine(({ as, blocks = 'none' }) => (PACKED_BLOCKS[as] as readonly string[]).includes(blocks), {
        message: 'Those blocks hold other channels.',
      })
      .refine(({ as, fills }) => fills.length === PACKED_AS[as].length, { message: 'Each channel has one filling.' }),
  )
  .min(1)
  .max(PACKING_LIMITS.files)
  .refine((files) => new Set(files.map((f) => f.name.toLowerCase())).size === files.length, {
    message: 'Two files have one name.',
  });

/** What a target can do, and what it wants. */
export const targetSchema = z.strictObject({
  opacity: z.enum(OPACITY_FROM),
  channel: z
    .strictObject({ file: z.string().min(1).max(PACKING_LIMITS.name), channel: z.int().min(0).max(3) })
    .optional(),
  levels: z.enum([...MIP_FILTERS, 'file']),
  powerOfTwo: z.boolean(),
  largest: z.int().min(1).max(65536),
  oneBit: z.boolean().optional(),
  clips: z.boolean(),
  blends: z.boolean(),
  twoSided: z.boolean(),
});

const bytes = z.number().min(1).max(1e12);
/** Bytes that a hand-off may take. */
export const budgetSchema = z.strictObject({ disk: bytes.optional(), card: bytes.optional() });
