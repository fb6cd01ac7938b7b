import { makeMask, type Mask } from '@lithe-sieve/core';
import { clampByte, type Colour } from './drawn.ts';

/** A curve with a width and a colour along it: a blade of grass, a hair. Lengths in texels. */
export interface Strand {
  /** Centre at t in [0, 1]. */
  at(t: number): readonly [x: number, y: number];
  halfWidth(t: number): number;
  /** Colour at t, and across from −1 to 1. */
  colour(t: number, across: number): Colour;
  /** About its length. */
  length: number;
}

export interface Layer {
  size: number;
  /** RGB of what is drawn, unpremultiplied, 0–255. */
  rgb: Float32Array;
  alpha: Float32Array;
  /** The nearest point of the strand being drawn, for every texel it touches. */
  hit: { list: number[]; gap: Float32Array; t: Float32Array; across: Float32Array };
}

const UNTOUCHED = 1e9;

export function makeLayer(size: number): Layer {
  const texels = size * size;
  const plane = () => new Float32Array(texels);
  const hit = { list: [], gap: plane().fill(UNTOUCHED), t: plane(), across: plane() };
  return { size, rgb: new Float32Array(texels * 3), alpha: plane(), hit };
}

/**
 * Lays a strand over what is there. Coverage of a texel is that of a straight edge through it at the distance of the
 * strand's border; each texel is painted once a strand, by its nearest point among the small segments.
 */
export function drawStrand(layer: Layer, strand: Strand): void {
  const { hit } = layer;
  const steps = Math.max(8, Math.ceil(strand.length / 6));
  let [x0, y0] = strand.at(0);
  for (let k = 1; k <= steps; k++) {
    const [x1, y1] = strand.at(k / steps);
    visitSegment(layer, x0, y0, x1, y1, strand, (k - 1) / steps, 1 / steps);
    [x0, y0] = [x1, y1];
  }
  for (const i of hit.list) {
    const cover = Math.min(1, 0.5 - hit.gap[i]) * Math.min(1, 2 * strand.halfWidth(hit.t[i]));
    if (cover > 0) layOver(layer, i, cover, strand.colour(hit.t[i], hit.across[i]));
    hit.gap[i] = UNTOUCHED;
  }
  hit.list.length = 0;
}

/** Notes every texel within reach of one segment; `gap` is the distance to the strand's border, negative inside. */
function visitSegment(
  { size, hit }: Layer,
  x0: number,
  y0: number,
  x1: number,
  y1: number,
  strand: Strand,
  t0: number,
  dt: number,
): void {
  const half0 = strand.halfWidth(t0);
  const half1 = strand.halfWidth(t0 + dt);
  const reach = Math.max(half0, half1) + 1;
  const dx = x1 - x0;
  const dy = y1 - y0;
  const squared = dx * dx + dy * dy || 1e-9;
  const left = Math.max(0, Math.floor(Math.min(x0, x1) - reach));
  const right = Math.min(size - 1, Math.floor(Math.max(x0, x1) + reach));
  const top = Math.max(0, Math.floor(Math.min(y0, y1) - reach));
  const bottom = Math.min(size - 1, Math.floor(Math.max(y0, y1) + reach));
  for (let y = top; y <= bottom; y++) {
    for (let x = left; x <= right; x++) {
      const px = x + 0.5 - x0;
      const py = y + 0.5 - y0;
      const s = Math.min(1, Math.max(0, (px * dx + py * dy) / squared));
      const ex = px - s * dx;
      const ey = py - s * dy;
      const distance = Math.sqrt(ex * ex + ey * ey);
      const half = half0 + s * (half1 - half0);
      const gap = distance - half;
      const i = y * size + x;
      if (gap > 0.5 || gap >= hit.gap[i]) continue;
      if (hit.gap[i] === UNTOUCHED) hit.list.push(i);
      hit.gap[i] = gap;
      hit.t[i] = t0 + s * dt;
      hit.across[i] = (px * dy - py * dx > 0 ? 1 : -1) * Math.min(1, distance / Math.max(half, 0.3));
    }
  }
}

function layOver(layer: Layer, i: number, cover: number, [r, g, b]: Colour): void {
  const under = layer.alpha[i] * (1 - cover);
  const alpha = cover + under;
  const rgb = layer.rgb;
  rgb[3 * i] = (r * cover + rgb[3 * i] * under) / alpha;
  rgb[3 * i + 1] = (g * cover + rgb[3 * i + 1] * under) / alpha;
  rgb[3 * i + 2] = (b * cover + rgb[3 * i + 2] * under) / alpha;
  layer.alpha[i] = alpha;
}

export function layerMask(layer: Layer): Mask {
  const mask = new Uint8Array(layer.alpha.length);
  for (let i = 0; i < mask.length; i++) mask[i] = Math.round(255 * layer.alpha[i]);
  return makeMask(layer.size, layer.size, mask);
}

/** The layer over a matte: what a paint surface of that colour shows. */
export function overMatte(layer: Layer, matte: (i: number) => Colour): Uint8Array {
  const out = new Uint8Array(layer.rgb.length);
  for (let i = 0; i < layer.alpha.length; i++) {
    const under = matte(i);
    const alpha = layer.alpha[i];
    for (let c = 0; c < 3; c++) out[3 * i + c] = clampByte(under[c] + (layer.rgb[3 * i + c] - under[c]) * alpha);
  }
  return out;
}
