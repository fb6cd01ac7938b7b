import type { Place, TexelAt } from '@lithe-sieve/core';

/** Whether a person left this place as it is: one of the remembered texels lies in its box. */
export function isLeft(left: readonly TexelAt[], { at }: Place): boolean {
  return left.some(([x, y]) => x === at[0] && y === at[1]);
}

/** The remembered texels with or without that of a place. */
export function withPlace(left: readonly TexelAt[], { at }: Place, leave: boolean): TexelAt[] {
  const others = left.filter(([x, y]) => x !== at[0] || y !== at[1]);
  return leave ? [...others, [at[0], at[1]]] : others;
}
