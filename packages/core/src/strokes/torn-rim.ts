import { cosine, sine } from '../math/trigonometry.ts';
import { chance } from '../math/chance.ts';
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
  // from texels to samples of the tile
  private readonly uu: number;
  private readonly uv: number;
  private readonly u: number;
  private readonly vu: number;
  private readonly vv: number;
  private readonly v: number;

  /**
   * @param radius - Of the brush at full pressure, texels of what is drawn.
   * @param mirror - In texels of what is drawn: the teeth are those of the other side.
   */
  constructor(seed: number, radius: number, mirror: Mirror | null) {
    const per = PER_RADIUS / radius;
    const { x, y, degrees } = mirror ?? { x: 0, y: 0, degrees: 0 };
    const [nx, ny] = mirror ? [cosine(degrees), sine(degrees)] : [0, 0];
    const off = 2 * (x * nx + y * ny);
    const from = (axis: number) => Math.floor(TILE * chance(seed, axis)); // each stroke has its own place in the tile
    this.uu = (1 - 2 * nx * nx) * per;
    this.uv = -2 * nx * ny * per;
    this.u = off * nx * per + from(0);
    this.vu = -2 * nx * ny * per;
    this.vv = (1 - 2 * ny * ny) * per;
    this.v = off * ny * per + from(1);
    this.steepest = Math.min(1, STEEPEST * per);
  }

  /** How much deeper it may be one texel away, at the most. */
  readonly steepest: number;

  /** 0 not torn, 1 as deep as it may be. */
  depthAt(x: number, y: number): number {
    const u = this.uu * x + this.uv * y + this.u;
    const v = this.vu * x + this.vv * y + this.v;
    const i = Math.floor(u);
    const j = Math.floor(v);
    const s = u - i;
    const left = i & (TILE - 1);
    const right = (i + 1) & (TILE - 1);
    const top = (j & (TILE - 1)) * TILE;
    const low = ((j + 1) & (TILE - 1)) * TILE;
    const above = tile[top + left] + s * (tile[top + right] - tile[top + left]);
    const below = tile[low + left] + s * (tile[low + right] - tile[low + left]);
    return above + (v - j) * (below - above);
  }
}

/** Value noise that repeats, the same for every stroke (K. Perlin, "Improving noise", 2002, for the blend between lattice points). */
function makeTile(): Float32Array {
  const tile = new Float32Array(TILE * TILE);
  for (const [octave, { count, depth }] of TEETH.entries()) {
    const lattice = Float32Array.from({ length: count * count }, (_, k) => chance(1 + 7 * octave, k));
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
  return tile;
}

const tile = makeTile();
/** Between two samples that touch, across and down together. */
const STEEPEST = steepestOf(tile);

function steepestOf(values: Float32Array): number {
  let most = 0;
  for (let k = 0; k < values.length; k++) {
    const right = (k & ~(TILE - 1)) | ((k + 1) & (TILE - 1));
    const below = (k + TILE) % values.length;
    most = Math.max(most, Math.abs(values[right] - values[k]), Math.abs(values[below] - values[k]));
  }
  return Math.SQRT2 * most;
}
