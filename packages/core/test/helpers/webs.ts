import { makeMask, type Mask } from '../../src/index.ts';
import { random } from './pictures.ts';

/** A picture as its true edge is: whether a point, in texels, is kept. */
export type Shape = (x: number, y: number) => boolean;

/** Threads of `thick` texels, `gap` apart both ways, turned by about 30°. */
export function net(gap: number, thick: number): Shape {
  return (x, y) => {
    const [u, v] = [0.866 * x + 0.5 * y, 0.866 * y - 0.5 * x];
    return mod(u, gap) < thick || mod(v, gap) < thick;
  };
}

/** Rings side by side and in turn, as lace has them. */
export function lace(pitch: number, thick: number): Shape {
  return (x, y) => {
    const row = Math.floor(y / pitch);
    const [dx, dy] = [mod(x + (row % 2) * (pitch / 2), pitch) - pitch / 2, mod(y, pitch) - pitch / 2];
    return Math.abs(Math.sqrt(dx * dx + dy * dy) - 0.45 * pitch) < thick / 2;
  };
}

/** Strands from top to bottom, each of its own slant and thickness. */
export function hair(seed: number, width: number, strands: number): Shape {
  const next = random(seed);
  const [at, slant, thick] = [0, 1, 2].map(() => new Float64Array(strands));
  for (let k = 0; k < strands; k++) {
    at[k] = next() * width;
    slant[k] = (next() - 0.5) * 0.3;
    thick[k] = 0.7 + next() * 0.8;
  }
  return (x, y) => {
    for (let k = 0; k < strands; k++) if (Math.abs(at[k] + slant[k] * y - x) < thick[k]) return true;
    return false;
  };
}

export function disc(cx: number, cy: number, radius: number): Shape {
  return (x, y) => (x - cx) ** 2 + (y - cy) ** 2 < radius ** 2;
}

function mod(a: number, n: number): number {
  return ((a % n) + n) % n;
}

const FINE = 4;

/** The share of each texel that is kept, from 4 × 4 points. */
export function drawShape(shape: Shape, width: number, height: number): Mask {
  const data = new Uint8Array(width * height);
  for (let i = 0; i < data.length; i++) {
    const [x, y] = [i % width, Math.floor(i / width)];
    let kept = 0;
    for (let k = 0; k < FINE * FINE; k++) {
      if (shape(x + ((k % FINE) + 0.5) / FINE, y + (Math.floor(k / FINE) + 0.5) / FINE)) kept++;
    }
    data[i] = Math.round((kept / FINE / FINE) * 255);
  }
  return makeMask(width, height, data);
}

/** How far, in texels on average, the edge of a mask that is magnified four times lies from that of the shape. */
export function edgeShift({ width, height, data }: Mask, threshold: number, shape: Shape): number {
  const side = FINE * width;
  let wrong = 0;
  let edge = 0;
  const before = new Uint8Array(side);
  for (let y = 0; y < FINE * height; y++) {
    let left = 0;
    for (let x = 0; x < side; x++) {
      const truth = Number(shape((x + 0.5) / FINE, (y + 0.5) / FINE));
      wrong += truth ^ Number(sample(data, width, height, (x + 0.5) / FINE - 0.5, (y + 0.5) / FINE - 0.5) >= threshold);
      if (x > 0 && truth !== left) edge++;
      if (y > 0 && truth !== before[x]) edge++;
      before[x] = left = truth;
    }
  }
  return wrong / (edge * (Math.PI / 4)) / FINE; // steps along both axes: 4/π times the length, on average
}

function sample(data: Uint8Array, width: number, height: number, x: number, y: number): number {
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const at = (i: number, j: number) =>
    data[Math.min(height - 1, Math.max(0, j)) * width + Math.min(width - 1, Math.max(0, i))];
  const [fx, fy] = [x - x0, y - y0];
  const top = at(x0, y0) * (1 - fx) + at(x0 + 1, y0) * fx;
  return top * (1 - fy) + (at(x0, y0 + 1) * (1 - fx) + at(x0 + 1, y0 + 1) * fx) * fy;
}
