/**
 * Weights by which a side of `from` texels is halved to `to`: an odd side n spreads over (n − 1) / 2 texels of three
 * taps each, so that every input counts the same (S. Guthe, P. Heckbert, "Non-Power-of-Two Mipmapping", 2005 (mem)).
 *
 * @returns three weights for each texel out, and how far its first tap is from that of the texel before.
 */
export function taps(from: number, to: number): { step: number; weight: Float64Array } {
  const weight = new Float64Array(3 * to);
  for (let i = 0; i < to; i++) {
    if (from === to) weight[3 * i] = 1;
    else if (from === 2 * to) weight.set([0.5, 0.5, 0], 3 * i);
    else weight.set([(to - i) / from, to / from, (i + 1) / from], 3 * i);
  }
  return { step: from === to ? 1 : 2, weight };
}
