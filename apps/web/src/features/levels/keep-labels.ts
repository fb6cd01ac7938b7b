import type { Keep } from '@lithe-sieve/core';

export const KEEP_LABELS: Record<Keep, string> = {
  none: 'not kept',
  scale: 'scaled per level',
  diffused: 'error diffusion',
  local: 'locally',
};
