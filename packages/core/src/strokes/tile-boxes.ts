import type { Box } from '../raster/box.ts';
import { TILE } from './coverage.ts';

/**
 * Tiles as boxes of texels: those beside each other in a row are one, and rows of the same stretch below each other are
 * one, so that a long slanting stroke is a stair of small boxes and not the box around it.
 *
 * @param tiles - Numbers of tiles, row by row, each once, in any order.
 */
export function boxesOfTiles(tiles: Iterable<number>, width: number, height: number): Box[] {
  const across = Math.ceil(width / TILE);
  const stretches: Box[] = [];
  for (const tile of [...tiles].sort((a, b) => a - b)) {
    const [x0, y0] = [(tile % across) * TILE, Math.floor(tile / across) * TILE];
    const x1 = Math.min(width, x0 + TILE);
    const last = stretches[stretches.length - 1];
    if (last?.y0 === y0 && last.x1 === x0) last.x1 = x1;
    else stretches.push({ x0, y0, x1, y1: Math.min(height, y0 + TILE) });
  }
  const boxes: Box[] = [];
  const lowest = new Map<number, Box>();
  for (const stretch of stretches) {
    const above = lowest.get(stretch.x0);
    if (above?.x1 === stretch.x1 && above.y1 === stretch.y0) {
      above.y1 = stretch.y1;
      continue;
    }
    boxes.push(stretch);
    lowest.set(stretch.x0, stretch);
  }
  return boxes;
}
