import { angleOf, cosine, sine } from '../math/trigonometry.ts';
import { chance } from '../math/chance.ts';
import { FULL, type Coverage } from './coverage.ts';
import { FULL_PRESSURE, POINT_UNIT, type Brush, type BrushStroke, type Mirror } from './stroke.ts';
import { Swept, sweepDisc, THIN, type Disc } from './sweep.ts';
import { printPicture, printRagged, printRound, printTorn, type Dab, type TipPicture } from './tips.ts';
import { TornRim } from './torn-rim.ts';

/** Share of the size at full pressure: a pen that hardly touches still leaves something. */
const LEAST_SIZE = 0.05;

interface PathPoint {
  /** Texels of the full size. */
  x: number;
  y: number;
  pressure: number;
}

/**
 * Draws a brush stroke into a coverage as its points come. What it covers depends on the points alone, not on how many
 * came at once. Places and lengths are turned to the size that is drawn at the very end, so that a stroke drawn twice as
 * large has a finer edge in the same place.
 */
export class BrushTrace {
  private last: PathPoint | null = null;
  /** To the next dab, texels of the full size. */
  private toNext = 0;
  private dabs = 0;
  /** Texels that a whole-texel brush came to. */
  private readonly seen = new Set<number>();
  private readonly swept: boolean;
  /** Rows of the stroke and of its mirror image. */
  private readonly rows: Swept[] = [];
  private readonly rims: TornRim[] = [];
  private readonly thin: boolean;

  /** @param tip - Of a brush whose tip is a piece. */
  constructor(
    private readonly stroke: Pick<BrushStroke, 'brush' | 'seed' | 'mirror'>,
    private readonly scale: number,
    private readonly cover: Coverage,
    private readonly tip: TipPicture | null,
  ) {
    const { brush } = stroke;
    this.swept = brush.tip === 'round' && brush.flow >= 1 && !brush.flowByPressure;
    const radius = (brush.diameter / 2) * scale;
    this.thin = radius < THIN && radius * (1 - brush.hardness) <= 1;
  }

  /** @param path - x, y, pressure of further points. */
  extend(path: ArrayLike<number>): void {
    for (let i = 0; i + 2 < path.length; i += 3) {
      const next = {
        x: path[i] / POINT_UNIT,
        y: path[i + 1] / POINT_UNIT,
        pressure: path[i + 2] / FULL_PRESSURE,
      };
      if (this.stroke.brush.tip === 'whole texels') this.lineOfTexels(this.last ?? next, next);
      else if (this.swept) this.sweep(this.last ?? next, next);
      else this.dabAlong(this.last, next);
      this.last = next;
    }
  }

  private discAt({ x, y, pressure }: PathPoint): Disc {
    const { diameter, sizeByPressure } = this.stroke.brush;
    const share = sizeByPressure ? LEAST_SIZE + (1 - LEAST_SIZE) * pressure : 1;
    return { x: x * this.scale, y: y * this.scale, r: (diameter / 2) * share * this.scale };
  }

  private sweep(from: PathPoint, to: PathPoint): void {
    const { hardness } = this.stroke.brush;
    for (const [i, side] of this.sides().entries()) {
      const swept = (this.rows[i] ??= new Swept(this.cover));
      sweepDisc(swept, this.discAt(side(from)), this.discAt(side(to)), { hardness, thin: this.thin });
    }
  }

  private sides(): ((p: PathPoint) => PathPoint)[] {
    const { mirror } = this.stroke;
    return mirror ? [(p) => p, (p) => mirrored(p, mirror)] : [(p) => p];
  }

  private dabAlong(from: PathPoint | null, to: PathPoint): void {
    if (!from) {
      this.print(to, 0);
      this.toNext = this.stepAt(to);
      return;
    }
    const [dx, dy] = [to.x - from.x, to.y - from.y];
    const length = Math.sqrt(dx * dx + dy * dy);
    let at = this.toNext;
    for (; at <= length; at += this.toNext) {
      const t = at / length;
      const here = {
        x: from.x + t * dx,
        y: from.y + t * dy,
        pressure: from.pressure + t * (to.pressure - from.pressure),
      };
      this.print(here, angleOf(dy, dx));
      this.toNext = this.stepAt(here);
    }
    this.toNext = at - length;
  }

  /** The rim of the stroke, or of its mirror image. */
  private rimOf(side: number): TornRim {
    const { brush, seed, mirror } = this.stroke;
    const there = side === 1 && mirror ? { ...mirror, x: mirror.x * this.scale, y: mirror.y * this.scale } : null;
    return (this.rims[side] ??= new TornRim(seed, (brush.diameter / 2) * this.scale, there));
  }

  private stepAt({ pressure }: PathPoint): number {
    const { diameter, spacing, sizeByPressure } = this.stroke.brush;
    const share = sizeByPressure ? LEAST_SIZE + (1 - LEAST_SIZE) * pressure : 1;
    return Math.max(0.25, diameter * share * spacing);
  }

  private print(at: PathPoint, heading: number): void {
    const { brush, seed } = this.stroke;
    const index = this.dabs++;
    const flow = brush.flow * (brush.flowByPressure ? at.pressure : 1);
    const size = brush.tip === 'piece' ? 1 - brush.sizeSpread * chance(seed, 3 * index + 1) : 1;
    const turned = turnOf(brush, heading, chance(seed, 3 * index + 2), chance(seed, 3 * index + 3));
    for (const [i, side] of this.sides().entries()) {
      const disc = this.discAt(side(at));
      const dab: Dab = { ...disc, r: disc.r * size, hardness: brush.hardness, flow, seed: seed + 7919 * index };
      if (brush.tip === 'round') printRound(this.cover, dab);
      else if (brush.tip === 'ragged' && brush.rim === 'picture') printTorn(this.cover, dab, brush.torn, this.rimOf(i));
      else if (brush.tip === 'ragged') printRagged(this.cover, dab, brush.torn);
      else if (this.tip)
        printPicture(this.cover, dab, this.tip, i === 0 ? turned : 2 * (this.stroke.mirror?.degrees ?? 0) - turned);
    }
  }

  /** J. Bresenham, "Algorithm for computer control of a digital plotter" (1965). */
  private lineOfTexels(from: PathPoint, to: PathPoint): void {
    for (const side of this.sides()) {
      const [a, b] = [side(from), side(to)];
      let [x, y] = [Math.floor(a.x), Math.floor(a.y)];
      const [x1, y1] = [Math.floor(b.x), Math.floor(b.y)];
      const [dx, dy] = [Math.abs(x1 - x), -Math.abs(y1 - y)];
      const [sx, sy] = [x < x1 ? 1 : -1, y < y1 ? 1 : -1];
      for (let error = dx + dy; ;) {
        this.wholeTexel(x, y);
        if (x === x1 && y === y1) break;
        const twice = 2 * error;
        if (twice >= dy) {
          error += dy;
          x += sx;
        }
        if (twice <= dx) {
          error += dx;
          y += sy;
        }
      }
    }
  }

  /** A texel of the full size, once: by the share of each texel here that it takes. */
  private wholeTexel(x: number, y: number): void {
    const key = (y + 65536) * 262144 + x + 65536;
    if (this.seen.has(key)) return;
    this.seen.add(key);
    const { scale, cover } = this;
    const [x0, x1, y0, y1] = [x * scale, (x + 1) * scale, y * scale, (y + 1) * scale];
    for (let v = Math.max(0, Math.floor(y0)); v < Math.min(cover.height, Math.ceil(y1)); v++) {
      const tall = Math.min(y1, v + 1) - Math.max(y0, v);
      for (let u = Math.max(0, Math.floor(x0)); u < Math.min(cover.width, Math.ceil(x1)); u++) {
        const wide = Math.min(x1, u + 1) - Math.max(x0, u);
        cover.addShare(u, v, Math.floor(wide * tall * FULL + 0.5));
      }
    }
  }
}

function turnOf({ turn, angle, angleSpread }: Brush, heading: number, whole: number, spread: number): number {
  const base = turn === 'along the stroke' ? heading : turn === 'at random' ? 360 * whole : 0;
  return base + angle + angleSpread * (spread - 0.5);
}

/** On the other side of a line. */
export function mirrored<P extends { x: number; y: number }>(point: P, { x, y, degrees }: Mirror): P {
  const [nx, ny] = [cosine(degrees), sine(degrees)]; // across the line
  const far = (point.x - x) * nx + (point.y - y) * ny;
  return { ...point, x: point.x - 2 * far * nx, y: point.y - 2 * far * ny };
}
