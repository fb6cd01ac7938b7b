import {
  CLIP_DRAWING_DEFAULTS,
  CLIP_DRAWINGS,
  HOLD_VERSION,
  KEEPS,
  LEVEL_DEFAULTS,
  LEVEL_MAKERS,
  LEVEL_RANGES,
  LIMITS,
  MIP_FILTERS,
  MOST_PAINTED,
  SAMPLE_COUNTS,
  WRAPS,
  type Range,
} from '@lithe-sieve/core';
import { z } from './zod.ts';
import { idSchema } from './ids.ts';

const levelNumber = ({ min, max }: Range) => z.number().min(min).max(max);
const mipLevel = z.int().min(1).max(14);
const side = z.int().min(1).max(LIMITS.side);
const places = z
  .array(
    z
      .int()
      .min(0)
      .max(LIMITS.side ** 2),
  )
  .max(MOST_PAINTED);
const paintedLevel = z.strictObject({ level: mipLevel, width: side, height: side, kept: places, dropped: places });

/** How mip levels come about; documents before version 3 have none. */
export const levelsSchema = z
  .strictObject({
    madeBy: z.enum(LEVEL_MAKERS),
    filter: z.enum(MIP_FILTERS),
    keep: z.enum(KEEPS),
    // not there before version 4
    replaced: z
      .array(z.strictObject({ level: mipLevel, sourceId: idSchema }))
      .max(14)
      .default([]),
    painted: z.array(paintedLevel).max(14).default([]),
    averages: z.enum(MIP_FILTERS).default('box'),
    wrapAcross: z.enum(WRAPS),
    wrapDown: z.enum(WRAPS),
    hold: z.boolean(),
    // not there before version 6
    holdVersion: z.int().min(1).max(HOLD_VERSION).default(1),
    strength: levelNumber(LEVEL_RANGES.strength),
    downTo: levelNumber(LEVEL_RANGES.downTo),
    fieldOfView: levelNumber(LEVEL_RANGES.fieldOfView),
    screenHeight: levelNumber(LEVEL_RANGES.screenHeight),
  })
  .default({ ...LEVEL_DEFAULTS, replaced: [], painted: [] });

/** How the clip is drawn; documents before version 4 have none. */
export const drawnSchema = z
  .strictObject({
    by: z.enum(CLIP_DRAWINGS),
    samples: z.literal([...SAMPLE_COUNTS]),
  })
  .default({ ...CLIP_DRAWING_DEFAULTS });
