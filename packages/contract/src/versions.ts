import { DOC_SCHEMA } from '@lithe-sieve/core';
import { z } from './zod.ts';

/**
 * The version of a document's form. Documents of version 1 hold none. What a version renamed is read under its old name
 * where it stands, since patches of the history bring old forms back at any time; what it added has a default.
 *
 * - 2: what a stroke and a scribble do is called `effect`, it was `says`.
 * - 3: `levels`, how the mip levels come about.
 * - 4: `drawn`, how the clip is drawn; levels that are replaced or painted over.
 * - 5: steps have versions; `mixed` of two steps.
 * - 6: `holdVersion` of the levels; `effort` of the hand-off.
 * - 7: `form`, `outline` and `mesh` of the card.
 * - 8: `placement` and `slot` of the mesh; `sides` of the card; outlines set by hand; `sway` of the hand-off.
 * - 9: the `line` that cards of a set stand along; what a mesh `follows`;
 *   outlines of parts set by hand.
 * - 10: `normals` of the card.
 * - 11: `map` and `offset` of maps of one value; `emission` of the material; `packing` of the hand-off.
 * - 12: `target` and `budget` of the hand-off, `format` of a packed file.
 * - 13: profiles of scenes and materials beside GLB; `container` of levels, `naming` and `space` of the hand-off; levels in packed
 *   files.
 */
export const docVersionSchema = z
  .int()
  .min(1)
  .max(DOC_SCHEMA, { message: 'It was saved by a newer version of Lithe Sieve: start that one.' })
  .default(1)
  .transform(() => DOC_SCHEMA);

/** Reads `says`, which several things were called before, under the name that it has now. */
export function formerlySays(name: string): (value: unknown) => unknown {
  return (value) => {
    if (typeof value !== 'object' || value === null || !('says' in value)) return value;
    const { says, ...others } = value;
    return { [name]: says, ...others };
  };
}
