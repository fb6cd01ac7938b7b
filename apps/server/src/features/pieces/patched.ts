import { pieceDocSchema, type HistoryEntry } from '@lithe-sieve/contract';
import type { PieceDoc } from '@lithe-sieve/core';
import { applyPatches, enablePatches, type Patch } from 'immer';
import { StudioError } from '../../studio-error.ts';

enablePatches();

/** A change that can never be taken, however often it is sent. */
export function badEdit(message: string): StudioError {
  return new StudioError(
    'refused',
    'bad-edit',
    message,
    'The newest saved version stays; yours is kept as a separate piece.',
  );
}

/** @throws StudioError `bad-edit` where the patches do not lead to a valid document. */
export function patched(doc: PieceDoc, patches: HistoryEntry['patches']): PieceDoc {
  let next: unknown;
  try {
    next = applyPatches(doc, patches as Patch[]);
  } catch (error) {
    throw badEdit(`The change does not fit the piece: ${(error as Error).message}`);
  }
  const checked = pieceDocSchema.safeParse(next);
  if (checked.success) return checked.data;
  const [issue] = checked.error.issues;
  throw badEdit(`The change is not valid at ${issue.path.join('.')}: ${issue.message}`);
}
