import { chance } from '../../math/chance.ts';
import type { Loom } from './loom.ts';

interface Hole {
  x: number;
  y: number;
  radius: number;
}

/** In radii of a hole: how far its most ragged rim reaches, and a little more. */
const FARTHEST = 1.31;

/** Torn holes of a cloth, and how far the threads of its hem reach; in widths of the card. */
export class ClothWear {
  private readonly holes: Hole[];
  private readonly fray: number;

  constructor(private readonly loom: Loom) {
    const { holes = 0, holeSize = 0, fray = 0, seamless } = loom.params;
    this.fray = seamless ? 0 : fray * loom.ratio;
    this.holes = Array.from({ length: Math.round(holes) }, (_, k) => ({
      x: loom.draw(90, k),
      y: loom.draw(91, k) * loom.ratio,
      radius: (loom.of(holeSize) / 2) * (0.6 + 0.8 * loom.draw(92, k)),
    }));
  }

  /**
   * Whether a piece of a thread is missing: in a hole, whose rim is as ragged as its threads are, or beyond the hem,
   * where level threads are pulled out and upright ones end each at its own length.
   *
   * @param thread - A number of the thread's own.
   */
  takes(x: number, y: number, thread: number, upright: boolean): boolean {
    const { loom, holes, fray } = this;
    const hem = loom.ratio - fray;
    if (fray > 0 && y > hem && (!upright || y > hem + fray * (0.15 + 0.85 * chance(thread, 7)))) return true;
    const { seamless } = loom.params;
    for (let k = 0; k < holes.length; k++) {
      const hole = holes[k];
      let dx = x - hole.x;
      let dy = y - hole.y;
      if (seamless) {
        dx -= Math.round(dx); // nearest way round where the card repeats
        dy -= loom.ratio * Math.round(dy / loom.ratio);
      }
      const far = dx * dx + dy * dy;
      if (far > FARTHEST * FARTHEST * hole.radius * hole.radius) continue;
      const ragged = hole.radius * (0.7 + 0.6 * chance(thread, 11 + k));
      if (far < ragged * ragged) return true;
    }
    return false;
  }
}
