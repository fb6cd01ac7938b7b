import { ROLE_ENDINGS, type Endings } from '@lithe-sieve/core';
import { local } from '../document/local';

const ENDINGS = 'endings';

/** The endings of names as this browser's person has them. */
export function readEndings(): Endings {
  try {
    const kept = Object.entries(JSON.parse(local.read(ENDINGS) ?? '{}') as object);
    const valid = kept.filter(([role, words]) => role in ROLE_ENDINGS && isWords(words));
    return { ...ROLE_ENDINGS, ...(Object.fromEntries(valid) as Partial<Endings>) };
  } catch {
    return ROLE_ENDINGS;
  }
}

const isWords = (words: unknown): boolean => Array.isArray(words) && words.every((word) => typeof word === 'string');

export function writeEndings(endings: Endings): void {
  local.write(ENDINGS, JSON.stringify(endings));
}
