import { SieveError } from '../errors.ts';
import type { PieceDoc } from '../piece/piece-doc.ts';
import { NAME_PARTS } from '../piece/naming.ts';
import { fileStem } from './file-name.ts';
import { filesOf } from './profile.ts';

/** @throws {@link SieveError} `out-of-range` for an unknown part, or a pattern that gives two files one name. */
export function assertPattern(doc: PieceDoc): void {
  const { pattern, naming } = doc.handOff;
  for (const one of [pattern, naming?.material, naming?.mesh]) if (one !== undefined) assertParts(one);
  const named = { size: { width: 1, height: 1 } };
  const names = filesOf(doc).map((f) => `${fileStem(doc, { ...named, slot: f.slot })}.${f.extension}`.toLowerCase());
  if (new Set(names).size < names.length) {
    throw new SieveError(
      'out-of-range',
      'The name pattern gives two files the same name.',
      'Put {map} into it, and give each file a name of its own.',
    );
  }
}

/** @throws {@link SieveError} `out-of-range` for a part that no pattern knows. */
export function assertParts(pattern: string): void {
  const unknown = (pattern.match(/\{[^}]*\}?/g) ?? []).find((p) => !NAME_PARTS.includes(p as never));
  if (!unknown) return;
  throw new SieveError('out-of-range', `The name pattern holds ${unknown}.`, `Use ${NAME_PARTS.join(', ')}.`);
}
