import type { ShallowRef } from 'vue';
import { useEngineStore } from '../../stores/engine.store';
import type { ViewName } from './drawing/messages';
import type { Point } from './poses';
import type { Stage } from './stage';

/** A place on the picture, and the view it was found on. */
export type SeenPlace = Point & { on: ViewName };

/** Where points of both views, in CSS pixels, lie on the picture, in texels of its full size. */
export function usePlaces(stage: ShallowRef<Stage | null>) {
  const engine = useEngineStore();

  /** Texels with their fraction, beside the picture too; null where the card is not seen. */
  function exactOn(view: ViewName, at: Point): Point | null {
    const s = stage.value;
    if (!s || !engine.size) return null;
    if (view === 'sheet') return s.sheet.texelAt(at.x, at.y, s.view('sheet'));
    const hit = s.stand.pictureAt(at.x, at.y, s.view('stand'));
    return hit && { x: hit.u * engine.size.width, y: hit.v * engine.size.height };
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

  /** CSS pixels of one texel around a place. */
  function perTexel(view: ViewName, { x, y }: Point): number {
    const s = stage.value;
    if (!s || !engine.size) return 1;
    if (view === 'sheet') return s.sheet.scale;
    const { width, height } = engine.size;
    const [a, b] = [0, 8].map((d) => s.stand.pointOf((x + d) / width, y / height, s.view('stand')));
    return Math.max(0.01, Math.hypot(b.x - a.x, b.y - a.y) / 8);
  }

  return { exactOn, texelOn, perTexel };
}
