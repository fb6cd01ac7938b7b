import { mix, type Colour, type Drawn } from './drawn.ts';
import { fractalNoise, random } from './random.ts';
import { drawStrand, layerMask, makeLayer, overMatte, type Strand } from './strands.ts';

/** A lock of a pony's mane: a colour picture on flat brown, and its mask as a picture of its own. */
export function drawMane(seed: number, size: number): Drawn {
  const next = random(seed);
  const noise = fractalNoise(seed + 1, 3);
  const layer = makeLayer(size);
  const wisps = Array.from({ length: 11 }, (_, k) => ({
    root: 0.2 + 0.6 * (k / 10) + 0.03 * (next() - 0.5),
    sway: (next() - 0.5) * 0.22 + 0.1,
    reach: 0.6 + 0.32 * next(),
    wave: 2 + 3 * next(),
    phase: 6 * next(),
  }));
  for (let i = 0; i < 620; i++) drawStrand(layer, hair(wisps[Math.floor(next() * wisps.length)], next, noise, size));
  const colour = overMatte(layer, () => [92, 74, 58]);
  return { colour: { width: size, height: size, channels: 3, data: colour }, mask: layerMask(layer) };
}

interface Wisp {
  root: number;
  sway: number;
  reach: number;
  wave: number;
  phase: number;
}

function hair(wisp: Wisp, next: () => number, noise: (x: number, y: number) => number, size: number): Strand {
  const spread = (next() + next() - 1) * 0.075;
  const flyaway = next() < 0.07 ? (next() - 0.5) * 0.22 : 0;
  const reach = wisp.reach * (0.75 + 0.25 * next()) + 0.02;
  const width = (0.0009 + 0.0013 * next()) * size;
  const tone = next();
  const base: Colour = mix([70, 50, 34], [128, 96, 60], tone);
  const shine: Colour = mix([176, 142, 96], [216, 188, 138], tone);
  const glint = 0.3 + 0.15 * next();
  const seedX = 50 * next();
  const start = 0.012 + 0.022 * next();
  return {
    length: reach * size * 1.1,
    at: (t) => {
      const gather = 1 - 0.72 * t * t; // hairs of a wisp run together at its tip
      const wave = 0.018 * Math.sin(wisp.wave * 2 * t + wisp.phase) + 0.006 * noise(seedX, 5 * t);
      return [(wisp.root + spread * gather + (wisp.sway + flyaway) * t * t + wave) * size, (start + reach * t) * size];
    },
    halfWidth: (t) => width * Math.pow(1 - t, 0.45),
    colour: (t, across) => {
      const shone = Math.exp(-((t - glint) * (t - glint)) * 60);
      const c = mix(base, shine, Math.min(1, 0.9 * shone + 0.18 * noise(seedX, t * 30) + 0.2));
      const l = (1 - 0.22 * Math.abs(across)) * (0.72 + 0.4 * tone);
      return [c[0] * l, c[1] * l, c[2] * l];
    },
  };
}
