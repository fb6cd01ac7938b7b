/** Part of a picture, in texels: right and bottom are the first beyond it. */
export interface Box {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}

export function areaOf({ x0, y0, x1, y1 }: Box): number {
  return Math.max(0, x1 - x0) * Math.max(0, y1 - y0);
}

/** The least box that holds them all. @param boxes - At least one. */
export function boundsOf(boxes: readonly Box[]): Box {
  return boxes.reduce((a, b) => ({
    x0: Math.min(a.x0, b.x0),
    y0: Math.min(a.y0, b.y0),
    x1: Math.max(a.x1, b.x1),
    y1: Math.max(a.y1, b.y1),
  }));
}

/** What going to one more box costs, in texels of going through it. */
const TEXELS_PER_BOX = 2048;

/** The same boxes, or the one around them where going through that is no more work. */
export function joinBoxes(boxes: readonly Box[]): readonly Box[] {
  if (boxes.length < 2) return boxes;
  const bounds = boundsOf(boxes);
  const apart = boxes.reduce((sum, box) => sum + areaOf(box) + TEXELS_PER_BOX, 0);
  return apart < areaOf(bounds) ? boxes : [bounds];
}
