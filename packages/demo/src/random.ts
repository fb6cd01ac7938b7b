/** Numbers in [0, 1), the same for the same seed (mulberry32). */
export function random(seed: number): () => number {
  let state = seed | 0;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), state | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** Smooth noise in [−1, 1] over the plane: random values on a lattice, joined by smoothstep. */
export function valueNoise(seed: number): (x: number, y: number) => number {
  const next = random(seed);
  const lattice = Float32Array.from({ length: 65536 }, () => 2 * next() - 1);
  const at = (x: number, y: number) => lattice[((y & 255) << 8) | (x & 255)];
  return (x, y) => {
    const x0 = Math.floor(x);
    const y0 = Math.floor(y);
    const fx = x - x0;
    const fy = y - y0;
    const sx = fx * fx * (3 - 2 * fx);
    const sy = fy * fy * (3 - 2 * fy);
    const top = at(x0, y0) + sx * (at(x0 + 1, y0) - at(x0, y0));
    const bottom = at(x0, y0 + 1) + sx * (at(x0 + 1, y0 + 1) - at(x0, y0 + 1));
    return top + sy * (bottom - top);
  };
}

/** Octaves of noise, each at twice the frequency and half the strength; about [−1, 1]. */
export function fractalNoise(seed: number, octaves: number): (x: number, y: number) => number {
  const noise = valueNoise(seed);
  return (x, y) => {
    let sum = 0;
    let strength = 0.5;
    for (let i = 0; i < octaves; i++) {
      sum += strength * noise(x, y);
      x = 2 * x + 17.3;
      y = 2 * y - 9.1;
      strength /= 2;
    }
    return sum;
  };
}
