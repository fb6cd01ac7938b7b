import { LIMITS, STEP_KINDS, type NumberKeys, type Range, type StepKindName, type StepParams } from '@lithe-sieve/core';
import { z } from './zod.ts';
import { idSchema } from './ids.ts';

export const share = z.number().min(0).max(1);
const byte = z.int().min(0).max(255);
export const rgb = z.tuple([byte, byte, byte]);
const coordinate = z
  .int()
  .min(0)
  .max(LIMITS.side - 1);
export const texels = z.array(z.tuple([coordinate, coordinate])).max(2000);
/** Id of a source of the piece; empty: none, or the colour picture. */
export const sourceId = z.union([z.literal(''), idSchema]);
export const fit = z.enum(['refuse', 'scale']);
export const curve = z
  .array(z.tuple([share, share]))
  .max(16)
  .refine((points) => points.every(([x], i) => i === 0 || x > points[i - 1][0]), {
    message: 'Points of a curve go from left to right.',
  });

type Numbers<K extends StepKindName> = Record<NumberKeys<StepParams[K]>, z.ZodNumber>;

/** Schemas of the numbers of a kind, with the ranges that core says. */
function numbersOf<K extends StepKindName>(kind: K): Numbers<K> {
  const ranges = Object.entries<Range>(STEP_KINDS[kind].ranges);
  return Object.fromEntries(ranges.map(([name, { min, max }]) => [name, z.number().min(min).max(max)])) as Numbers<K>;
}

/** A number that is said again, for documents from before it was there, is that. */
function withNumbers<K extends StepKindName, S extends z.ZodRawShape>(
  kind: K,
  others: S,
): Omit<Numbers<K>, keyof S> & S {
  return { ...numbersOf(kind), ...others };
}

/** The schema of a kind of step: its numbers, and the parameters that are none. */
export function step<K extends StepKindName, S extends z.ZodRawShape>(kind: K, others: S) {
  const newest = STEP_KINDS[kind].version ?? 1;
  const newer = `It holds a step of a newer version than ${newest}, the newest known here: start the newer Lithe Sieve.`;
  return z.strictObject({
    id: idSchema,
    on: z.boolean(),
    kind: z.literal(kind),
    version: z.int().min(1).max(newest, { message: newer }).optional(),
    params: z.strictObject(withNumbers(kind, others)),
  });
}
