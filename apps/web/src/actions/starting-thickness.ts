import { keptBox, stepKind, type Mask, type Range, type StepParams } from '@lithe-sieve/core';

/** Side of a level that is small enough to be looked through at once. */
const SMALL_ENOUGH = 512;
/** Half alpha. */
const KEPT = 128;

/**
 * Translucency of a broad leaf must not end in black: twice as wide as all that is kept, its middle is half as light as its
 * rim, and veins show.
 *
 * @param cardWidth - Metres.
 */
export function startingThickness(levels: readonly Mask[], cardWidth: number): Partial<StepParams['translucency']> {
  const level = levels.find((l) => Math.max(l.width, l.height) <= SMALL_ENOUGH);
  const box = level && keptBox(level, KEPT);
  if (!box) return {};
  const narrower = Math.min(box.x1 - box.x0, box.y1 - box.y0);
  const { min, max } = (stepKind('translucency').ranges as Record<string, Range>)['full'];
  const full = (2 * narrower * 1000 * cardWidth) / level.width;
  return { full: Math.min(max, Math.max(min, Number(full.toPrecision(2)))) };
}
