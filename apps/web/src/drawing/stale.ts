import { boundsOf } from '@lithe-sieve/core';
import type { Part } from './view-painter';

/** The part of a picture that is all that changed in a view; null: draw all of it. */
export type Stale = Part | null;

/** @param before - undefined: nothing yet. */
export function together(before: Stale | undefined, part: Stale): Stale {
  if (before === undefined) return part;
  const [was, is] = [before?.picture, part?.picture];
  const alike = before && part && was?.width === is?.width && was?.height === is?.height;
  return alike ? { box: boundsOf([before.box, part.box]), picture: part.picture } : null;
}
