import {
  BRUSH_RANGES,
  POINT_UNIT,
  FULL_PRESSURE,
  LIMITS,
  REGION_RANGES,
  STROKE_LIMITS,
  TIPS,
  TURNS,
  type Stroke,
} from '@lithe-sieve/core';
import { z } from './zod.ts';
import { idSchema, sha256Schema } from './ids.ts';
import { formerlySays } from './versions.ts';

const { beyond } = STROKE_LIMITS;
const lowest = -beyond * POINT_UNIT;
const highest = (LIMITS.side + beyond) * POINT_UNIT;
const inPicture = z
  .int()
  .min(0)
  .max(LIMITS.side - 1);
const between = ({ min, max }: { min: number; max: number }) => z.number().min(min).max(max);

const mirror = z
  .strictObject({
    x: z
      .number()
      .min(-beyond)
      .max(LIMITS.side + beyond),
    y: z
      .number()
      .min(-beyond)
      .max(LIMITS.side + beyond),
    degrees: z.number().min(-360).max(360),
  })
  .optional();
const any = { id: idSchema, effect: z.enum(['cut', 'restore']), mirror };

/** Numbers in groups; the place of a bad one is named. */
function path(group: number, least: number, limits: readonly { min: number; max: number }[]) {
  return z.array(z.number()).superRefine((numbers, context) => {
    const say = (message: string, at?: number) =>
      context.addIssue({ code: 'custom', message, ...(at === undefined ? {} : { path: [at] }) });
    if (numbers.length > STROKE_LIMITS.path) return say(`A path holds at most ${STROKE_LIMITS.path} numbers.`);
    if (numbers.length % group !== 0 || numbers.length < group * least)
      return say(`A path is groups of ${group} numbers.`);
    const bad = numbers.findIndex((v, i) => {
      const { min, max } = limits[i % group];
      return !Number.isInteger(v) || v < min || v > max;
    });
    if (bad >= 0) say(`${numbers[bad]} is not a point on or near the picture.`, bad);
  });
}

const place = { min: lowest, max: highest };
const brush = z.strictObject({
  tip: z.enum(TIPS),
  diameter: between(BRUSH_RANGES.diameter),
  hardness: between(BRUSH_RANGES.hardness),
  flow: between(BRUSH_RANGES.flow),
  spacing: between(BRUSH_RANGES.spacing),
  sizeByPressure: z.boolean(),
  flowByPressure: z.boolean(),
  torn: between(BRUSH_RANGES.torn),
  rim: z.enum(['picture', 'dab']).optional(),
  picture: z.union([z.literal(''), sha256Schema]),
  turn: z.enum(TURNS),
  angle: between(BRUSH_RANGES.angle),
  angleSpread: between(BRUSH_RANGES.angleSpread),
  sizeSpread: between(BRUSH_RANGES.sizeSpread),
});

/** What was done by hand. Refused whole where one number of it is not sound. */
export const strokeSchema = z.preprocess(
  formerlySays('effect'),
  z.discriminatedUnion('kind', [
    z.strictObject({
      ...any,
      kind: z.literal('brush'),
      brush,
      seed: z.int().min(0).max(0x7fffffff),
      path: path(3, 1, [place, place, { min: 0, max: FULL_PRESSURE }]),
    }),
    z.strictObject({ ...any, kind: z.literal('outline'), path: path(2, 3, [place, place]) }),
    z.strictObject({
      ...any,
      kind: z.literal('region'),
      of: z.enum(['picture', 'mask']),
      at: z.tuple([inPicture, inPicture]),
      tolerance: between(REGION_RANGES.tolerance),
      gaps: between(REGION_RANGES.gaps),
    }),
  ]),
);

/** Fails to compile when the schema and core's strokes drift apart. */
export type StrokeFitsSchema = z.infer<typeof strokeSchema> extends Stroke ? true : never;
export const strokeFitsSchema: StrokeFitsSchema = true;
