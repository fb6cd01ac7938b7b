import type { Place, TexelAt } from '@lithe-sieve/core';

/** Whether a person marked this place: its own texel is among those remembered. */
export function isMarked(marked: readonly TexelAt[], { at }: Place): boolean {
  return marked.some(([x, y]) => x === at[0] && y === at[1]);
}

/** The remembered texels with or without that of a place. */
export function withPlace(marked: readonly TexelAt[], { at }: Place, mark: boolean): TexelAt[] {
  const others = marked.filter(([x, y]) => x !== at[0] || y !== at[1]);
  return mark ? [...others, [at[0], at[1]]] : others;
}
