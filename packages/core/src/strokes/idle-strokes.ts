import type { Mask } from '../raster/raster.ts';
import { POINT_UNIT, type BrushStroke, type Stroke } from './stroke.ts';

/** Alpha up to which there is nothing to cut, and from which there is nothing to restore. */
const NOTHING = 8;
const ALL = 247;
/** Places looked at around each point of a path, in radii: its middle and eight more. */
const AROUND = [[0, 0], [0.7, 0], [-0.7, 0], [0, 0.7], [0, -0.7], [0.5, 0.5], [-0.5, 0.5], [0.5, -0.5], [-0.5, -0.5]] as const; // prettier-ignore

/**
 * Strokes with a brush, mirrored ones apart, that change nothing where they are: they cut where nothing is kept, or restore what is whole. What
 * is under them has moved away since they were drawn.
 *
 * @param mask - As it comes into their step, at full size.
 */
export function idleStrokes(strokes: readonly Stroke[], mask: Mask): BrushStroke[] {
  return strokes.filter(
    (stroke): stroke is BrushStroke => stroke.kind === 'brush' && !stroke.mirror && isIdle(stroke, mask),
  );
}

function isIdle({ path, brush, effect }: BrushStroke, { width, height, data }: Mask): boolean {
  const radius = brush.diameter / 2;
  const changes = (x: number, y: number) => {
    const [column, row] = [Math.floor(x), Math.floor(y)];
    if (column < 0 || row < 0 || column >= width || row >= height) return false;
    const alpha = data[row * width + column];
    return effect === 'cut' ? alpha > NOTHING : alpha < ALL;
  };
  const changesAt = (x: number, y: number) => AROUND.some(([dx, dy]) => changes(x + dx * radius, y + dy * radius));
  for (let i = 0; i + 2 < path.length; i += 3) {
    const [x, y] = [path[i] / POINT_UNIT, path[i + 1] / POINT_UNIT];
    const from = i === 0 ? i : i - 3;
    const [dx, dy] = [x - path[from] / POINT_UNIT, y - path[from + 1] / POINT_UNIT];
    const steps = Math.max(1, Math.ceil(Math.sqrt(dx * dx + dy * dy) / Math.max(0.5, radius)));
    for (let k = 0; k < steps; k++) if (changesAt(x - (dx * k) / steps, y - (dy * k) / steps)) return false;
  }
  return true;
}
