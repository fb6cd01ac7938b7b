import { boundsOf, type Box } from './box.ts';

/**
 * How a raster differs from the one before it: `whole`, where it is another one; or only in these boxes, in the same
 * memory, where it was written into (none: not at all). It goes from the painter through the engine to the views.
 */
export type Change = 'whole' | readonly Box[];

/** The box around a change; null for all of it, or where nothing changed. */
export function boxOfChange(change: Change): Box | null {
  return change === 'whole' || change.length === 0 ? null : boundsOf(change);
}
