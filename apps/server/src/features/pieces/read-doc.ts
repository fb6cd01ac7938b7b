import { pieceDocSchema } from '@lithe-sieve/contract';
import type { PieceDoc } from '@lithe-sieve/core';

/** A stored document in today's form: parameters that came later get their defaults, so that an edit finds them. */
export function readDoc(text: string): PieceDoc {
  return pieceDocSchema.parse(JSON.parse(text));
}
