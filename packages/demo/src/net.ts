import { clampByte, mix, type Colour, type Drawn } from './drawn.ts';
import { fractalNoise } from './random.ts';

const PALE: Colour = [176, 158, 120];
const WEED: Colour = [92, 104, 62];

/** A cut out of a crab net: diamond meshes of twisted cord, knotted, with weed on it; no whole number of meshes a side. */
export function drawCrabNet(seed: number, size: number): Drawn {
  const noise = fractalNoise(seed, 3);
  const mesh = size / 5.6;
  const half = size * 0.0085;
  const mask = new Uint8Array(size * size);
  const data = new Uint8Array(4 * size * size);
  for (let y = 0, i = 0; y < size; y++) {
    for (let x = 0; x < size; x++, i++) {
      // cords sag a little, at random
      const wx = x + 0.05 * mesh * (noise((3 * x) / size, (3 * y) / size) - 0.5);
      const wy = y + 0.05 * mesh * (noise((3 * y) / size + 9, (3 * x) / size) - 0.5);
      const [u, v] = [(wx + wy) / mesh, (wx - wy) / mesh];
      const [du, dv] = [u - Math.round(u), v - Math.round(v)];
      const [a, b] = [(Math.abs(du) * mesh) / Math.SQRT2, (Math.abs(dv) * mesh) / Math.SQRT2];
      const knot = Math.hypot(du, dv) * mesh * Math.SQRT1_2 - 1.1 * half;
      const away = Math.min(a, b, knot) - half;
      const cover = Math.min(1, Math.max(0, 0.5 - away));
      const [along, across] = a < b ? [v, du * mesh] : [u, dv * mesh];
      const twist = 0.5 + 0.5 * Math.sin(along * 30 + across * 0.55);
      const round = Math.sqrt(Math.max(0, 1 - (Math.min(a, b) / (1.6 * half)) ** 2));
      const weed = Math.min(1, Math.max(0, 3 * noise((6 * x) / size + 3, (6 * y) / size) - 1.4));
      const light = (0.45 + 0.4 * round) * (0.8 + 0.3 * twist);
      const c = mix(PALE, WEED, weed).map((k) => clampByte(k * light * 1.15));
      mask[i] = Math.round(255 * cover);
      data.set([...c, mask[i]], 4 * i);
    }
  }
  return {
    colour: { width: size, height: size, channels: 4, data },
    mask: { width: size, height: size, channels: 1, data: mask },
  };
}
