import { luminance8 } from '../colour/luminance.ts';

/** What a million texels show of alpha and of the colour beside it. */
export interface AlphaTally {
  looked: number;
  none: number;
  full: number;
  /** Alpha within a step of luminance. */
  asLuminance: number;
  /** Partly covered texels, and those of them with a colour above their alpha. */
  partly: number;
  above: number;
  /** Sums of luminance: of nearly dropped texels, of whole ones. */
  underDropped: number;
  dropped: number;
  kept: number;
}

/**
 * Plain sentences about a source that has alpha, and about its size: what would go wrong later, or explains what is seen.
 *
 * @param tally - Of its texels; null where its alpha is all full or all zero, or not there.
 */
export function remarksOn(width: number, height: number, tally: AlphaTally | null): string[] {
  const remarks = tally ? alphaRemarks(tally) : [];
  const twos = [width, height].every((side) => (side & (side - 1)) === 0);
  if (!twos) remarks.push(`${width} × ${height} is not a power of two.`);
  return remarks;
}

function alphaRemarks(t: AlphaTally): string[] {
  const percent = (n: number) => `${Math.round((100 * n) / t.looked)} %`;
  const out = [`Of its alpha ${percent(t.none)} is zero, ${percent(t.full)} full, ${percent(t.partly)} between.`];
  if (t.asLuminance > 0.995 * t.looked) out.push('Its alpha is a copy of its luminance.');
  else if (t.partly > 0.001 * t.looked && t.above < 0.002 * t.partly) {
    out.push('It looks premultiplied: no colour is above its alpha. “Unmix” with black takes that out.');
  } else if (t.dropped > 0.01 * t.looked && t.full > 0) {
    const under = t.underDropped / t.dropped;
    const whole = t.kept / t.full;
    if (under < 40 && whole > under + 30) out.push('A dark matte lies under its edge: bleed covers it.');
    if (under > 215 && whole < under - 30) out.push('A light matte lies under its edge: bleed covers it.');
  }
  return out;
}

export function makeTally(): AlphaTally {
  return { looked: 0, none: 0, full: 0, asLuminance: 0, partly: 0, above: 0, underDropped: 0, dropped: 0, kept: 0 };
}

/** Adds one texel, red in the lowest byte. */
export function addToTally(t: AlphaTally, w: number): void {
  const [r, g, b, a] = [w & 255, (w >>> 8) & 255, (w >>> 16) & 255, w >>> 24];
  const light = luminance8(r, g, b);
  t.looked++;
  if (Math.abs(light - a) <= 1) t.asLuminance++;
  if (a === 255) {
    t.full++;
    t.kept += light;
  } else if (a === 0) t.none++;
  else {
    t.partly++;
    if (r > a + 1 || g > a + 1 || b > a + 1) t.above++;
  }
  if (a < 26) {
    t.dropped++;
    t.underDropped += light;
  }
}
