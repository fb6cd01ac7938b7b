import { SieveError } from '../errors.ts';
import type { PieceDoc } from '../piece/piece-doc.ts';
import { fileStem, NAME_PARTS } from './file-name.ts';
import { filesOf } from './profile.ts';

/** @throws {@link SieveError} `out-of-range` for an unknown part, or a pattern that gives two files one name. */
export function assertPattern(doc: PieceDoc): void {
  const unknown = (doc.handOff.pattern.match(/\{[^}]*\}?/g) ?? []).find((p) => !NAME_PARTS.includes(p as never));
  if (unknown) {
    throw new SieveError('out-of-range', `The name pattern holds ${unknown}.`, `Use ${NAME_PARTS.join(', ')}.`);
  }
  const files = filesOf(doc);
  const names = files.map((f) => `${fileStem(doc, f.slot, { width: 1, height: 1 })}.${f.extension}`.toLowerCase());
  if (new Set(names).size < names.length) {
    throw new SieveError(
      'out-of-range',
      'The name pattern gives two files the same name.',
      'Put {map} into it, and give each file a name of its own.',
    );
  }
}
