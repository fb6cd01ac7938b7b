import { cosine, sine } from '../math/trigonometry.ts';
import { chance } from './chance.ts';
import type { Mirror } from './stroke.ts';

/** Teeth of three sizes: how many lie side by side in a tile, and how deep each goes. */
const TEETH = [
  { count: 8, depth: 0.5 },
  { count: 20, depth: 0.32 },
  { count: 52, depth: 0.18 },
];
/** Sums of three are rarely near 0 or 1: spread, some teeth go as deep as they may. */
const SPREAD = 1.5;
const TILE = 256;
/** Samples of a tile in a radius of the brush. */
const PER_RADIUS = TILE / 4;

/**
 * How deep a rim is torn at each place of the picture. It belongs to the place and not to the dab: dabs that overlap leave
 * the same teeth, where teeth of their own would fill each other's gaps.
 */
export class TornRim {
  private readonly tile: Float32Array;
  private readonly across: readonly number[];
  private readonly down: readonly number[];

  /**
   * @param radius - Of the brush at full pressure, texels of what is drawn.
   * @param mirror - In texels of what is drawn: the teeth are those of the other side.
   */
  constructor(seed: number, radius: number, mirror: Mirror | null) {
    this.tile = tileOf(seed);
    const per = PER_RADIUS / radius;
    const { x, y, degrees } = mirror ?? { x: 0, y: 0, degrees: 0 };
    const [nx, ny] = mirror ? [cosine(degrees), sine(degrees)] : [0, 0];
    const off = 2 * (x * nx + y * ny);
    this.across = [1 - 2 * nx * nx, -2 * nx * ny, off * nx].map((v) => v * per);
    this.down = [-2 * nx * ny, 1 - 2 * ny * ny, off * ny].map((v) => v * per);
  }

  /** 0 not torn, 1 as deep as it may be. */
  depthAt(x: number, y: number): number {
    const { tile, across, down } = this;
    const u = across[0] * x + across[1] * y + across[2];
    const v = down[0] * x + down[1] * y + down[2];
    const [i, j] = [Math.floor(u), Math.floor(v)];
    const [s, t] = [u - i, v - j];
    const [i0, i1] = [i & (TILE - 1), (i + 1) & (TILE - 1)];
    const [j0, j1] = [(j & (TILE - 1)) * TILE, ((j + 1) & (TILE - 1)) * TILE];
    const above = tile[j0 + i0] + s * (tile[j0 + i1] - tile[j0 + i0]);
    const below = tile[j1 + i0] + s * (tile[j1 + i1] - tile[j1 + i0]);
    return above + t * (below - above);
  }
}

let known: { seed: number; tile: Float32Array } | null = null;

/** Value noise that repeats (K. Perlin, "Improving noise", 2002, for the blend between lattice points). */
function tileOf(seed: number): Float32Array {
  if (known?.seed === seed) return known.tile;
  const tile = new Float32Array(TILE * TILE);
  for (const [octave, { count, depth }] of TEETH.entries()) {
    const lattice = Float32Array.from({ length: count * count }, (_, k) => chance(seed + 7 * octave, k));
    const places = Array.from({ length: TILE }, (_, k) => {
      const at = (k * count) / TILE;
      const from = Math.floor(at);
      const t = at - from;
      return { from, to: (from + 1) % count, t: t * t * (3 - 2 * t) };
    });
    for (const [j, v] of places.entries()) {
      for (const [i, u] of places.entries()) {
        const row = (k: number) => lattice[k * count + u.from] + u.t * (lattice[k * count + u.to] - lattice[k * count + u.from]); // prettier-ignore
        tile[j * TILE + i] += depth * (row(v.from) + v.t * (row(v.to) - row(v.from)));
      }
    }
  }
  for (let k = 0; k < tile.length; k++) tile[k] = Math.min(1, Math.max(0, 0.5 + SPREAD * (tile[k] - 0.5)));
  known = { seed, tile };
  return tile;
}
