import { ciede2000, labFromBytes, type Lab } from '../colour/ciede2000.ts';
import type { Rgb } from '../colour/srgb.ts';

/** Bytes from one point of the lattice to the next, and points each way: 0, 5 … 255. */
const STEP = 5;
const POINTS = 52;
const PLANE = POINTS * POINTS;
const FAR = 1e9;

let labs: Lab[] | undefined;
const known = new Map<string, Float32Array>();
const KNOWN_AT_MOST = 16;

/** CIEDE2000 / 100 of every lattice colour to the nearest swatch: half a second a swatch, so the last ones are kept. */
function distances(swatches: readonly Rgb[]): Float32Array {
  const key = swatches.join(';');
  const found = known.get(key);
  if (found) return found;
  labs ??= Array.from({ length: POINTS * PLANE }, (_, i) =>
    labFromBytes(STEP * (i % POINTS), STEP * (Math.floor(i / POINTS) % POINTS), STEP * Math.floor(i / PLANE)),
  );
  const centres = swatches.map((c) => labFromBytes(...c));
  const out = Float32Array.from(labs, (lab) => Math.min(FAR, ...centres.map((c) => ciede2000(lab, c) / 100)));
  if (known.size >= KNOWN_AT_MOST) known.delete(known.keys().next().value!);
  known.set(key, out);
  return out;
}

/** How far every lattice colour is inside what is kept, by the rule of `fromColour`; null without swatches. */
export function marginLattice({
  drop,
  keep,
  tolerance,
}: {
  drop: readonly Rgb[];
  keep: readonly Rgb[];
  tolerance: number;
}): Float32Array | null {
  if (drop.length === 0 && keep.length === 0) return null;
  const toKeep = keep.length > 0 ? distances(keep) : null;
  if (drop.length === 0) return toKeep!.map((d) => tolerance - d);
  const toDrop = distances(drop);
  return toDrop.map((d, i) => d - Math.min(tolerance, toKeep ? toKeep[i] : FAR));
}

/** Reads the margin of every texel between the eight lattice colours around it. */
export function measureByLattice(
  words: Uint32Array,
  out: Uint8Array,
  margins: Float32Array | null,
  gain: number,
  from: number,
  to: number,
): void {
  if (!margins) {
    out.fill(255, from, to);
    return;
  }
  let last = -1;
  let value = 0;
  for (let i = from; i < to; i++) {
    const rgb = words[i] & 0xffffff;
    if (rgb !== last) {
      last = rgb;
      const v = (128 + between(margins, rgb) * gain) | 0;
      value = v < 0 ? 0 : v > 255 ? 255 : v;
    }
    out[i] = value;
  }
}

function between(margins: Float32Array, rgb: number): number {
  const r = rgb & 255;
  const g = (rgb >>> 8) & 255;
  const b = rgb >>> 16;
  const x = r === 255 ? POINTS - 2 : (r / STEP) | 0;
  const y = g === 255 ? POINTS - 2 : (g / STEP) | 0;
  const z = b === 255 ? POINTS - 2 : (b / STEP) | 0;
  const u = r / STEP - x;
  const v = g / STEP - y;
  const w = b / STEP - z;
  const k = z * PLANE + y * POINTS + x;
  const near = mix4(margins[k], margins[k + 1], margins[k + POINTS], margins[k + POINTS + 1], u, v);
  const n = k + PLANE;
  const far = mix4(margins[n], margins[n + 1], margins[n + POINTS], margins[n + POINTS + 1], u, v);
  return near + (far - near) * w;
}

function mix4(a: number, b: number, c: number, d: number, u: number, v: number): number {
  const top = a + (b - a) * u;
  return top + (c + (d - c) * u - top) * v;
}
