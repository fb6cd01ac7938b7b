/** Card sides from which a card is seen whole on the Stand. */
export const WHOLE_CARD = 1.9;

export interface Point {
  x: number;
  y: number;
}

export interface Size {
  width: number;
  height: number;
}

/** A view's place: CSS pixels from the canvas's top left, as the browser gives them. Parts of pictures are core's Box. */
export interface Viewport extends Point, Size {}

/** Whole pixels around points of a view, and a margin, as far as they lie in it. */
export function pixelsAround(points: readonly Point[], margin: number, { width, height }: Size): Viewport {
  // of a large mesh there are more than a call takes arguments
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { x, y } of points) {
    [x0, y0] = [Math.min(x0, x), Math.min(y0, y)];
    [x1, y1] = [Math.max(x1, x), Math.max(y1, y)];
  }
  const left = clamp(Math.floor(x0 - margin), 0, width);
  const top = clamp(Math.floor(y0 - margin), 0, height);
  const right = clamp(Math.ceil(x1 + margin), left, width);
  const bottom = clamp(Math.ceil(y1 + margin), top, height);
  return { x: left, y: top, width: right - left, height: bottom - top };
}

export function clamp(v: number, low: number, high: number): number {
  return Math.min(high, Math.max(low, v));
}
