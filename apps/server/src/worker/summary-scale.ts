import { halvingsTo, texelsAtMost, type PieceDoc } from '@lithe-sieve/core';
import { PROXY_SIDE } from './inspect.ts';
import type { SummariseTask } from './tasks.ts';

/** Texels that the fit of a summary may come to: a texture that is larger than its source is computed smaller. */
const MOST_TEXELS = 1 << 21;

/** Texels of a summary to one of the full size. */
export function summaryScale(
  { run, cardWidth }: Pick<PieceDoc, 'run' | 'cardWidth'>,
  { facts, proxy }: SummariseTask['sources'][number],
  side = PROXY_SIDE,
): number {
  const own = 'kind' in proxy ? 0.5 ** halvingsTo(side, proxy) : proxy.width / facts.width;
  const texels = texelsAtMost(run, facts, cardWidth) * own * own;
  return own * 0.5 ** Math.max(0, Math.ceil(Math.log2(texels / Math.max(MOST_TEXELS, side * side)) / 2));
}
