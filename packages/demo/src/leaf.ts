import { makeMask } from '@lithe-sieve/core';
import { clampByte, mix, type Colour, type Drawn } from './drawn.ts';
import { fractalNoise, random } from './random.ts';

interface Hole {
  x: number;
  y: number;
  radius: number;
  phase: number;
}

const TOP = 0.07;
const LENGTH = 0.74;
const STALK_END = 0.955;

/**
 * A sea-aster leaf scanned on pale card under uneven light: no alpha, beetle-eaten holes that show the card, a faint
 * contact shadow. The mask is 4 × 4 supersampled coverage of the outline.
 */
export function drawLeafScan(seed: number, size: number): Drawn {
  const shape = leafShape(seed);
  const paint = leafPaint(seed, shape);
  const card = cardPaint(seed);
  const mask = new Uint8Array(size * size);
  const rgb = new Uint8Array(size * size * 3);
  const near = 3 / size;
  for (let y = 0, i = 0; y < size; y++) {
    for (let x = 0; x < size; x++, i++) {
      const u = (x + 0.5) / size;
      const v = (y + 0.5) / size;
      const inside = shape.inside(u, v);
      const alpha = Math.abs(inside) > near ? Number(inside > 0) : coverage(shape.inside, x, y, size);
      mask[i] = Math.round(alpha * 255);
      const under = alpha < 1 ? card(u, v, inside) : NOTHING;
      const over = alpha > 0 ? paint(u, v) : NOTHING;
      const out = mix(under, over, alpha);
      for (let c = 0; c < 3; c++) rgb[3 * i + c] = clampByte(out[c]);
    }
  }
  return { colour: { width: size, height: size, channels: 3, data: rgb }, mask: makeMask(size, size, mask) };
}

const NOTHING: Colour = [0, 0, 0];

function coverage(inside: (u: number, v: number) => number, x: number, y: number, size: number): number {
  let hits = 0;
  for (let j = 0; j < 4; j++) {
    for (let i = 0; i < 4; i++) if (inside((x + (i + 0.5) / 4) / size, (y + (j + 0.5) / 4) / size) > 0) hits++;
  }
  return hits / 16;
}

interface LeafShape {
  /** Positive inside, about the distance to the edge in picture sides. */
  inside: (u: number, v: number) => number;
  midrib: (v: number) => number;
  halfWidth: (v: number) => number;
}

/** A row is drawn texel by texel: what depends on it alone is computed once. */
function ofOneRow(value: (v: number) => number): (v: number) => number {
  let last = NaN;
  let known = NaN;
  return (v) => {
    if (v !== last) [last, known] = [v, value(v)];
    return known;
  };
}

function leafShape(seed: number): LeafShape {
  const next = random(seed);
  const bend = 0.02 + 0.02 * next();
  const ripple = fractalNoise(seed + 1, 3);
  const ragged = fractalNoise(seed + 2, 3);
  const midrib = ofOneRow((v) => 0.5 + bend * Math.sin(3.1 * (v - 0.2)));
  const halfWidth = ofOneRow((v) => {
    const t = (v - TOP) / LENGTH;
    if (t <= 0 || t >= 1) return 0;
    return 0.29 * Math.pow(Math.sin(Math.PI * Math.pow(t, 0.82)), 0.85) * (1.06 - 0.3 * t);
  });
  const holes: Hole[] = Array.from({ length: 9 }, () => {
    const v = 0.2 + 0.5 * next();
    return {
      x: midrib(v) + (next() - 0.5) * 1.4 * halfWidth(v),
      y: v,
      radius: 0.006 + 0.022 * next() * next(),
      phase: 6 * next(),
    };
  });
  const inside = (u: number, v: number) => {
    const side = u < midrib(v) ? 0 : 40;
    const edge = halfWidth(v) * (1 + 0.05 * ripple(v * 14 + side, side)) - Math.abs(u - midrib(v));
    const stalk = v > 0.6 ? 0.0085 + 0.004 * (v - 0.6) - Math.abs(u - midrib(v)) : v - 0.6 - 0.02;
    const blade = Math.min(edge * 0.8, v - TOP, TOP + LENGTH - v);
    let value = Math.max(blade, Math.min(stalk, STALK_END - v));
    for (const h of holes) {
      const dx = u - h.x;
      const dy = v - h.y;
      if (Math.abs(dx) > 0.05 || Math.abs(dy) > 0.05) continue;
      const angle = Math.atan2(dy, dx);
      const bite = 1 + 0.12 * Math.sin(3 * angle + h.phase) + 0.34 * ragged(u * 95, v * 95);
      value = Math.min(value, Math.sqrt(dx * dx + dy * dy) - h.radius * bite);
    }
    return value;
  };
  return { inside, midrib, halfWidth };
}

function leafPaint(seed: number, shape: LeafShape): (u: number, v: number) => Colour {
  const blotch = fractalNoise(seed + 3, 5);
  const fine = fractalNoise(seed + 4, 3);
  const dark: Colour = [58, 92, 44];
  const light: Colour = [122, 148, 70];
  const vein: Colour = [176, 182, 112];
  const old: Colour = [146, 112, 52];
  return (u, v) => {
    const x = u - shape.midrib(v);
    const reach = Math.abs(x) / Math.max(0.02, shape.halfWidth(v));
    let colour = mix(dark, light, 0.45 + 0.5 * blotch(u * 7, v * 7) + 0.12 * fine(u * 90, v * 90));
    const along = v * 17 + Math.abs(x) * 13;
    const offset = Math.abs(along - Math.round(along));
    const side = Math.exp(-offset * 26) * Math.max(0, 0.75 - 0.5 * reach);
    const mid = Math.exp(-Math.abs(x) * 260);
    colour = mix(colour, vein, Math.min(0.9, side * 0.7 + mid));
    const age = Math.max(0, Math.min(1, (reach - 0.82) * 4 + 0.9 * blotch(u * 5 + 9, v * 5)));
    colour = mix(colour, old, 0.65 * age);
    const light2 = 1.06 - 0.14 * u - 0.06 * v + 0.05 * fine(u * 300, v * 300);
    return [colour[0] * light2, colour[1] * light2, colour[2] * light2];
  };
}

function cardPaint(seed: number): (u: number, v: number, inside: number) => Colour {
  const grain = fractalNoise(seed + 5, 2);
  const stain = fractalNoise(seed + 6, 3);
  return (u, v, inside) => {
    const light = 1 - 0.11 * u - 0.07 * v - 0.05 * (u - 0.4) * (v - 0.3) + 0.012 * stain(u * 4, v * 4);
    const shadow = 1 - 0.09 * Math.exp(Math.min(0, inside) * 160);
    const l = light * shadow + 0.012 * grain(u * 700, v * 700);
    return [236 * l, 231 * l, 219 * (l + 0.012 * (1 - u))];
  };
}
