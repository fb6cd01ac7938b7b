import { CLIP_DRAWING_DEFAULTS } from '@lithe-sieve/core';
import type { Scenery } from './messages';

/** How views are looked at until something else is said: by the page, and by the worker while it compiles its shaders. */
export const SCENERY_DEFAULTS = {
  sheetMode: 'kept',
  mapLook: 'whole',
  beneath: false,
  softMarked: true,
  material: { mode: 'mask', cutoff: 0.5, opacity: 1, doubleSided: true },
  drawn: CLIP_DRAWING_DEFAULTS,
  backdrop: 'shore',
} as const satisfies Partial<Scenery>;
