import { POINT_UNIT, STROKE_LIMITS } from '@lithe-sieve/core';
import { shallowRef } from 'vue';
import type { PressPoint } from '../stage/press-tool';

/** Points of an outline: half the numbers that a path may have, and one to spare. */
const MOST_CORNERS = STROKE_LIMITS.path / 2 - 1;
/** CSS pixels that an outline must have gone to be closed when the pointer is lifted, and how near closes it. */
const FREEHAND_FROM = 24;
const CLOSES_WITHIN = 9;

/** An outline of corners and of what is drawn freehand between them. @param closed - Takes its path, x and y in parts of a texel. */
export function useOutline(closed: (path: number[]) => void) {
  /** Corners and freehand points, as x and y. */
  const outline = shallowRef<{ x: number; y: number }[]>([]);
  /** While it is drawn freehand: how far it came. */
  let freehand = 0;

  /** @param perTexel - CSS pixels of one texel. @returns whether it goes on. */
  function begin(at: PressPoint, perTexel: number): boolean {
    const [first] = outline.value;
    if (outline.value.length > 2 && Math.hypot(at.x - first.x, at.y - first.y) * perTexel < CLOSES_WITHIN) {
      close();
      return false;
    }
    freehand = 0;
    outline.value = [...outline.value, { x: at.x, y: at.y }];
    return true;
  }

  function draw(points: readonly PressPoint[], perTexel: number): void {
    for (const { x, y } of points) {
      const last = outline.value.at(-1);
      if (last) freehand += Math.hypot(x - last.x, y - last.y) * perTexel;
      if (outline.value.length < MOST_CORNERS) outline.value = [...outline.value, { x, y }];
    }
  }

  /** The pointer is lifted: what was drawn freehand is closed. */
  function lift(): void {
    if (freehand > FREEHAND_FROM) close();
    freehand = 0;
  }

  function close(): void {
    const points = outline.value;
    forget();
    if (points.length < 3) return;
    const whole = (v: number) => Math.round(v * POINT_UNIT);
    closed(points.flatMap(({ x, y }) => [whole(x), whole(y)]));
  }

  function forget(): void {
    outline.value = [];
    freehand = 0;
  }

  return { outline, begin, draw, lift, close, forget };
}
