import { LIMITS } from '../limits.ts';
import { PIECE_DEFAULTS, type StepEntry } from '../piece/piece-doc.ts';
import { stepKind } from '../steps/registry.ts';
import type { Sized } from '../steps/step.ts';

/**
 * Texels of the largest texture that a run may come to, before any of it is computed: what a step would refuse counts as
 * the most that it takes.
 *
 * @param size - Of the colour picture, texels.
 * @param cardWidth - Of the card that the whole picture lies on, metres.
 */
export function texelsAtMost(
  run: readonly StepEntry[],
  size: Sized,
  cardWidth: number = PIECE_DEFAULTS.cardWidth,
): number {
  let now = size;
  let perMetre = size.width / cardWidth;
  let largest = size.width * size.height;
  for (const { on, kind, params } of run) {
    const after = on ? stepKind(kind).sizeAtMost?.({ ...now, perMetre }, params) : undefined;
    if (!after) continue;
    if (Math.max(after.width, after.height) > LIMITS.side || after.width * after.height > LIMITS.texels) continue; // it is passed over
    if (kind === 'resize') perMetre *= after.width / now.width;
    now = after;
    largest = Math.max(largest, now.width * now.height);
  }
  return largest;
}
