import type { SurfaceHit } from '@lithe-sieve/core';
import type { ShallowRef } from 'vue';
import { useEngine } from '../../stores/open-piece/open-piece';
import type { Point, Size } from '../../drawing/poses';
import type { Stage, ViewName } from './stage';

/** A place on the picture, and the view it was found on. */
export type SeenPlace = Point & { on: ViewName };

/** Where a place of the picture, in texels of its size, is seen: CSS pixels of the view. */
export function pointOn(stage: Stage, view: ViewName, { x, y }: Point, { width, height }: Size): Point {
  if (view === 'sheet') return stage.sheet.pointOf(x, y, stage.view('sheet'));
  return stage.stand.pointOf(x / width, y / height, stage.view('stand'));
}

/** CSS pixels of one texel around a place. */
export function texelSideOn(stage: Stage, view: ViewName, { x, y }: Point, size: Size): number {
  if (view === 'sheet') return stage.sheet.scale;
  const [a, b] = [0, 8].map((d) => pointOn(stage, view, { x: x + d, y }, size));
  return Math.max(0.01, Math.hypot(b.x - a.x, b.y - a.y) / 8);
}

/** Where points of both views, in CSS pixels, lie on the picture, in texels of its full size. */
export function usePlaces(stage: ShallowRef<Stage | null>) {
  const engine = useEngine();

  /** Texels with their fraction, beside the picture too; null where the card is not seen. */
  function exactOn(view: ViewName, at: Point): (Point & { hit?: SurfaceHit }) | null {
    const s = stage.value;
    if (!s || !engine.size) return null;
    if (view === 'sheet') return s.sheet.texelAt(at.x, at.y, s.view('sheet'));
    const hit = s.stand.pictureAt(at.x, at.y, s.view('stand'));
    return hit && { x: hit.u * engine.size.width, y: hit.v * engine.size.height, hit };
  }

  /** Null beside the picture. */
  function texelOn(view: ViewName, at: Point): Point | null {
    const exact = exactOn(view, at);
    if (!exact || !engine.size) return null;
    const { width, height } = engine.size;
    const [x, y] = [Math.floor(exact.x), Math.floor(exact.y)];
    if (view === 'stand') return { x: Math.min(width - 1, x), y: Math.min(height - 1, y) }; // its rim is the card's
    return x >= 0 && y >= 0 && x < width && y < height ? { x, y } : null;
  }

  /** See {@link texelSideOn}; 1 as long as there is no picture. */
  function perTexel(view: ViewName, place: Point): number {
    return stage.value && engine.size ? texelSideOn(stage.value, view, place, engine.size) : 1;
  }

  return { exactOn, texelOn, perTexel };
}
