import { ROLE_ENDINGS, type Endings } from '@lithe-sieve/core';
import { local } from '../components/local';

const ENDINGS = 'endings';

/** The endings of names as this browser's person has them. */
export function readEndings(): Endings {
  try {
    return { ...ROLE_ENDINGS, ...(JSON.parse(local.read(ENDINGS) ?? '{}') as Partial<Endings>) };
  } catch {
    return ROLE_ENDINGS;
  }
}

export function writeEndings(endings: Endings): void {
  local.write(ENDINGS, JSON.stringify(endings));
}
