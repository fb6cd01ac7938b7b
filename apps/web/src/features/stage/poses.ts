export interface Point {
  x: number;
  y: number;
}

export interface Size {
  width: number;
  height: number;
}

/** A view's place: CSS pixels from the canvas's top left. */
export interface Viewport extends Point, Size {}

export function clamp(v: number, low: number, high: number): number {
  return Math.min(high, Math.max(low, v));
}
