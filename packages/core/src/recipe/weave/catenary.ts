/** Hyperbolic cosine by its series, from + × ÷ alone; |x| below 20. */
function cosh(x: number): number {
  let term = 1;
  let sum = 1;
  for (let n = 2; n < 120 && term > sum * 1e-17; n += 2) {
    term *= (x * x) / (n * (n - 1));
    sum += term;
  }
  return sum;
}

/**
 * A chain that hangs between two points of the same height, a span of 1 apart: y = a cosh(x / a), shifted.
 *
 * @param dip - How far its middle hangs below its ends, in spans; 0 is a straight line.
 * @returns Of a place from 0 to 1 along the span, how far it hangs below the ends there.
 */
export function catenary(dip: number): (place: number) => number {
  if (!(dip > 1e-6)) return () => 0;
  // dip = a (cosh(1 / 2a) − 1) falls as a grows
  let [low, high] = [0.026, 1];
  const dipOf = (a: number) => a * (cosh(0.5 / a) - 1);
  while (dipOf(high) > dip) high *= 2;
  for (let k = 0; k < 80; k++) {
    const a = (low + high) / 2;
    if (dipOf(a) > dip) low = a;
    else high = a;
  }
  const a = (low + high) / 2;
  const end = cosh(0.5 / a);
  return (place) => a * (end - cosh((place - 0.5) / a));
}
