import type { Box, CardSurface } from '@lithe-sieve/core';
import { Vector3, type Camera } from 'three';
import { cameraKind, type CameraLook } from '../cameras';
import { pixelsAround, type Point, type Size, type Viewport } from '../poses';
import type { Part } from '../view-painter';

/** Softness of the shadow's rim, CSS pixels, seen from as near as it can be. */
const SHADOW_SOFTNESS = 8;

/**
 * Where a part of the picture, and the shadow that it casts, are seen in a lit view: nothing else changes with it. All of
 * the view where that cannot be computed, because some of it is behind the camera.
 *
 * @param shadowWay - The way of the light that casts a shadow on the ground, y = 0; null where none does.
 */
export function seenLit(
  { box: part, picture }: Part,
  surface: CardSurface,
  look: CameraLook,
  view: Size,
  shadowWay: Vector3 | null,
): Viewport {
  const kind = cameraKind(look);
  const camera = kind.make();
  kind.place(camera, look, view);
  const seen = (p: Vector3) => toView(p, camera, view);
  const inSpace = (x: number, y: number) => {
    const at = surface.pointAt(x / picture.width, y / picture.height);
    return at && new Vector3(...at.position);
  };
  const pixelsOf = (x: number, y: number, dx: number, dy: number) => {
    const [a, b] = [inSpace(x, y), inSpace(x + dx, y + dy)];
    if (!a || !b) return Infinity;
    const [p, q] = [seen(a), seen(b)];
    return Math.hypot(q.x - p.x, q.y - p.y);
  };
  const least = Math.min(...samplesOf(part).flatMap(([x, y]) => [pixelsOf(x, y, 1, 0), pixelsOf(x, y, 0, 1)]));
  // how far the smaller levels carry a texel, on the card and on the sun's own picture of it
  const reach = Math.max(4 / Math.max(least, 1e-6), Math.max(picture.width, picture.height) / 48);
  const corners = surface.cornersOf(
    (part.x0 - reach) / picture.width,
    (part.y0 - reach) / picture.height,
    (part.x1 + reach) / picture.width,
    (part.y1 + reach) / picture.height,
  );
  const places = corners.flatMap((corner) => {
    const p = new Vector3(...corner);
    return shadowWay ? [p, p.clone().addScaledVector(shadowWay, -p.y / shadowWay.y)] : [p]; // and its shadow on the ground
  });
  const behind = places.some((p) => p.clone().applyMatrix4(camera.matrixWorldInverse).z > -camera.near);
  if (behind) return { x: 0, y: 0, width: view.width, height: view.height };
  return pixelsAround(places.map(seen), SHADOW_SOFTNESS, view);
}

/** Where the size of a texel is measured: what is far off, or seen at a slant, may lie anywhere in the part. */
function samplesOf({ x0, y0, x1, y1 }: Box): [number, number][] {
  const shares = [0, 0.25, 0.5, 0.75, 1];
  return shares.flatMap((a) => shares.map((b): [number, number] => [x0 + a * (x1 - x0), y0 + b * (y1 - y0)]));
}

/** Where a place in space is seen, CSS pixels of the view. */
export function toView(place: Vector3, camera: Camera, view: Size): Point {
  const at = place.clone().project(camera);
  return { x: ((at.x + 1) / 2) * view.width, y: ((1 - at.y) / 2) * view.height };
}
