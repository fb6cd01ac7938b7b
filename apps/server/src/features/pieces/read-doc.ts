import { pieceDocSchema } from '@lithe-sieve/contract';
import { cutText, STEP_KINDS, type PieceDoc } from '@lithe-sieve/core';
import { StudioError } from '../../studio-error.ts';

/**
 * A stored document in today's form: parameters that came later get their defaults, so that an edit finds them.
 *
 * @throws StudioError `unreadable-piece` for one that is damaged, or was written by a later version.
 */
export function readDoc(text: string): PieceDoc {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw unreadable('its document is damaged');
  }
  const { success, data, error } = pieceDocSchema.safeParse(json);
  if (success) return data;
  const unknown = unknownKind(json);
  if (unknown) throw unreadable(`a step of it is of a kind that this version does not have (${unknown})`);
  const [{ path, message }] = error.issues;
  throw unreadable(
    `its document is damaged, or from a later version: at ${path.join('.') || 'its top'}, ${cutText(message, 100)}`,
  );
}

function unknownKind(json: unknown): string | null {
  const run = (json as { run?: unknown } | null)?.run;
  const kinds = Array.isArray(run) ? run.map((step) => (step as { kind?: unknown } | null)?.kind) : [];
  const found = kinds.find((kind) => typeof kind === 'string' && !(kind in STEP_KINDS));
  return typeof found === 'string' ? cutText(found, 40) : null;
}

function unreadable(why: string): StudioError {
  return new StudioError(
    'refused',
    'unreadable-piece',
    `This piece cannot be opened: ${why}.`,
    'It can be copied out with its sources. Other pieces are not affected.',
  );
}
