import { digest, stepKind, type PieceDoc } from '@lithe-sieve/core';
import type { FullSize } from '@lithe-sieve/contract';
import { z } from 'zod';

const schema = z.object({
  of: z.string(),
  coverage: z.number(),
  size: z.object({ width: z.int(), height: z.int() }).optional(),
  snags: z.object({ of: z.string(), texts: z.array(z.string()) }).optional(),
});
/** What a piece came to at full size. */
export type AtFullSize = Pick<FullSize, 'coverage' | 'size' | 'snags'>;

/** What it depends on: a name or a pattern does not count, the width of the card for what is fitted. */
function keyOf({ run, sources, material, cardWidth }: PieceDoc): string {
  const fitted = run.some((s) => stepKind(s.kind).stretch === 'fit');
  const places = sources.map((s) => [s.id, s.sha256, s.place]);
  return digest(JSON.stringify([run, places, material.cutoff, material.opacity, ...(fitted ? [cardWidth] : [])]));
}

/** Snags depend on all of it but its name. */
function snagsKeyOf(doc: PieceDoc): string {
  return digest(JSON.stringify({ ...doc, name: '' }));
}

/** As it is stored: it holds as long as what it depends on stays. */
export function fullSizeText(doc: PieceDoc, { coverage, size, snags }: AtFullSize): string {
  const said = snags && { of: snagsKeyOf(doc), texts: snags };
  return JSON.stringify({ of: keyOf(doc), coverage, size, snags: said });
}

/** What is stored, where it is of this document; null otherwise. */
export function fullSizeOf(doc: PieceDoc, stored: string | null): AtFullSize | null {
  if (!stored) return null;
  try {
    const { of, coverage, size, snags } = schema.parse(JSON.parse(stored));
    if (of !== keyOf(doc)) return null;
    return { coverage, size, snags: snags?.of === snagsKeyOf(doc) ? snags.texts : undefined };
  } catch {
    return null; // as if it was never known
  }
}
