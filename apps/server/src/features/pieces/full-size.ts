import { digest, stepKind, type PieceDoc } from '@lithe-sieve/core';
import type { FullSize } from '@lithe-sieve/contract';
import { z } from 'zod';

const schema = z.object({
  of: z.string(),
  coverage: z.number(),
  size: z.object({ width: z.int(), height: z.int() }).optional(),
});
/** What a piece came to at full size. */
export type AtFullSize = Pick<FullSize, 'coverage' | 'size'>;

/** What it depends on: a name or a pattern does not count, the width of the card for what is fitted. */
function keyOf({ run, sources, material, cardWidth }: PieceDoc): string {
  const fitted = run.some((s) => stepKind(s.kind).stretch === 'fit');
  const places = sources.map((s) => [s.id, s.sha256, s.place]);
  return digest(JSON.stringify([run, places, material.cutoff, material.opacity, ...(fitted ? [cardWidth] : [])]));
}

/** As it is stored: it holds as long as what it depends on stays. */
export function fullSizeText(doc: PieceDoc, { coverage, size }: AtFullSize): string {
  return JSON.stringify({ of: keyOf(doc), coverage, size });
}

/** What is stored, where it is of this document; null otherwise. */
export function fullSizeOf(doc: PieceDoc, stored: string | null): AtFullSize | null {
  if (!stored) return null;
  try {
    const { of, ...its } = schema.parse(JSON.parse(stored));
    return of === keyOf(doc) ? its : null;
  } catch {
    return null; // as if it was never known
  }
}
