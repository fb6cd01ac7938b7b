import { mix, type Colour, type Drawn } from './drawn.ts';
import { fractalNoise, random } from './random.ts';
import { drawStrand, layerMask, makeLayer, overMatte, type Strand } from './strands.ts';

/** A tuft of cordgrass with straight alpha; its colour was painted over a dark matte, which stays under the edge. */
export function drawCordgrass(seed: number, size: number): Drawn {
  const next = random(seed);
  const noise = fractalNoise(seed + 1, 4);
  const layer = makeLayer(size);
  const blades = Array.from({ length: 74 }, () => blade(next, noise, size)).sort((a, b) => a.depth - b.depth);
  for (const { strand } of blades) drawStrand(layer, strand);
  const mask = layerMask(layer);
  const rgb = overMatte(layer, () => [18, 20, 16]);
  const data = new Uint8Array(size * size * 4);
  for (let i = 0; i < mask.data.length; i++) {
    data.set(rgb.subarray(3 * i, 3 * i + 3), 4 * i);
    data[4 * i + 3] = mask.data[i];
  }
  return { colour: { width: size, height: size, channels: 4, data }, mask };
}

function blade(
  next: () => number,
  noise: (x: number, y: number) => number,
  size: number,
): { strand: Strand; depth: number } {
  const root = 0.5 + (next() + next() + next() - 1.5) * 0.26;
  const middle = 1 - Math.min(1, Math.abs(root - 0.5) / 0.4); // tallest in the middle, tapering to the sides
  const height = (0.42 + 0.48 * middle * (0.7 + 0.3 * next())) * (0.7 + 0.3 * next());
  const lean = (root - 0.5) * 0.62 + (next() - 0.5) * 0.26;
  const droop = Math.abs(lean) * 0.35 * next();
  const width = (0.0042 + 0.004 * next()) * size;
  const depth = next();
  const tint = next();
  const base: Colour = mix([64, 78, 40], [96, 98, 50], tint);
  const tip: Colour = mix([150, 156, 84], [186, 164, 98], next());
  const shade = 0.62 + 0.46 * depth;
  const seedX = 90 * next();
  const strand: Strand = {
    length: height * size * 1.15,
    at: (t) => [
      (root + lean * t * t + 0.006 * Math.sin(9 * t + seedX)) * size,
      (0.985 - height * (t - droop * t * t * t)) * size,
    ],
    halfWidth: (t) => width * Math.min(1, 0.55 + 3 * t) * Math.pow(1 - t, 0.62),
    colour: (t, across) => {
      const rib = 1 - 0.34 * Math.exp(-Math.abs(across) * 7) + 0.2 * across;
      const streak = 1 + 0.14 * noise(across * 3 + seedX, t * 26);
      const c = mix(base, tip, Math.min(1, t * 1.1));
      const l = shade * rib * streak * (0.55 + 0.55 * Math.min(1, t * 2.2));
      return [c[0] * l, c[1] * l, c[2] * l];
    },
  };
  return { strand, depth };
}
