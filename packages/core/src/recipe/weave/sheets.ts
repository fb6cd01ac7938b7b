import { FLAT } from '../profile.ts';
import { cosine, sine } from '../../math/trigonometry.ts';
import type { Loom } from './loom.ts';

type Hole = (loom: Loom, x: number, y: number) => void;

const round: Hole = (loom, x, y) => loom.disc(x, y, loom.of(loom.params.thick) / 2, null, 2);

/** Across its flats as wide as the others, a corner up. */
const hexagon: Hole = (loom, x, y) => {
  const reach = loom.of(loom.params.thick) / Math.sqrt(3);
  const corners = Array.from({ length: 6 }, (_, k) => [x + reach * sine(60 * k), y - reach * cosine(60 * k)] as const);
  loom.plate(corners, null, 2);
};

const ARC = 24;

/** A slot with round ends, lying level. */
const slot: Hole = (loom, x, y) => {
  const radius = loom.of(loom.params.thick) / 2;
  const straight = Math.max(0, loom.of(loom.params.long) / 2 - radius);
  // the polygon of an arc is as large as the half disc
  const grown = radius * Math.sqrt(3.141592653589793 / (ARC * sine(180 / ARC)));
  const end = (side: number, from: number) =>
    Array.from({ length: ARC + 1 }, (_, k) => {
      const angle = from + (180 * k) / ARC;
      return [x + side * straight + grown * sine(angle), y - grown * cosine(angle)] as const;
    });
  loom.plate([...end(1, 0), ...end(-1, 180)], null, 2);
};

/**
 * A sheet with holes in rows.
 *
 * @param staggered - Every second row is shifted by half a pitch, and rows lie √3 / 2 pitches apart: 60°.
 * @param spare - What a hole is longer than the pitch in its row.
 */
function sheet(hole: Hole, staggered: boolean, spare: (loom: Loom) => number = () => 0) {
  return (loom: Loom): void => {
    const p = loom.of(loom.params.pitch);
    const across = loom.repeats(1, p + spare(loom));
    const down = loom.repeats(loom.ratio, staggered ? (p * Math.sqrt(3)) / 2 : p, staggered ? 2 : 1);
    loom.assertFew(across.count * down.count);
    const { ratio } = loom;
    const corners = [[0, 0], [1, 0], [1, ratio], [0, ratio]] as const; // prettier-ignore
    const placed = corners.map(([x, y]) => loom.hung(x, y + loom.sagAt(x))).map((p) => [p.x, p.y] as const);
    loom.scene.plate(placed, loom.surface(0, FLAT, 0, ratio, 0.4), 1);
    const more = loom.params.seamless ? 0 : 1;
    for (let j = 0; j < down.count + more; j++) {
      const shift = staggered && (j & 1) === 1 ? 0.5 : 0;
      for (let i = -more; i < across.count + more; i++) {
        const x = (i + 0.5 + shift) * across.pitch + 0.2 * p * loom.uneven(1, i, j);
        hole(loom, x, (j + 0.5) * down.pitch + 0.2 * p * loom.uneven(2, i, j));
      }
    }
  };
}

/** A slot is as much longer than a round hole as its length is more than its width. */
const beyondRound = (loom: Loom) => loom.of(Math.max(0, loom.params.long - loom.params.thick));

export const sheets = {
  'round holes, staggered': sheet(round, true),
  'round holes, straight': sheet(round, false),
  slots: sheet(slot, true, beyondRound),
  hexagons: sheet(hexagon, true),
} as const;
