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
  const [xs, ys] = [points.map((p) => p.x), points.map((p) => p.y)];
  const left = clamp(Math.floor(Math.min(...xs) - margin), 0, width);
  const top = clamp(Math.floor(Math.min(...ys) - margin), 0, height);
  const right = clamp(Math.ceil(Math.max(...xs) + margin), left, width);
  const bottom = clamp(Math.ceil(Math.max(...ys) + margin), top, height);
  return { x: left, y: top, width: right - left, height: bottom - top };
}

export function clamp(v: number, low: number, high: number): number {
  return Math.min(high, Math.max(low, v));
}
