import { digest, type PieceDoc } from '@lithe-sieve/core';
import { z } from 'zod';

const schema = z.object({ of: z.string(), coverage: z.number() });

/** What the share kept depends on: a name or a pattern does not count. */
function keyOf({ run, sources, material }: PieceDoc): string {
  return digest(
    JSON.stringify([run, sources.map((s) => [s.id, s.sha256, s.place]), material.cutoff, material.opacity]),
  );
}

/** The share kept at full size, as it is stored: it holds as long as what it depends on stays. */
export function fullSizeText(doc: PieceDoc, coverage: number): string {
  return JSON.stringify({ of: keyOf(doc), coverage });
}

/** The stored share, where it is of this document; null otherwise. */
export function coverageOf(doc: PieceDoc, stored: string | null): number | null {
  if (!stored) return null;
  try {
    const { of, coverage } = schema.parse(JSON.parse(stored));
    return of === keyOf(doc) ? coverage : null;
  } catch {
    return null; // as if it was never known
  }
}
