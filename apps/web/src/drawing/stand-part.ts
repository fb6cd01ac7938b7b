import type { Box, CardSurface } from '@lithe-sieve/core';
import { Vector3 } from 'three';
import { pixelsAround, type Viewport } from './poses';
import { makeStandCamera, placeStandCamera, toView } from './stand-pose';
import type { Scenery } from './messages';

/** Softness of the shadow's rim, CSS pixels, seen from as near as it can be. */
const SHADOW_SOFTNESS = 8;

/**
 * Where a part of the picture, and the shadow that it casts, are seen on the Stand: nothing else changes with it. All of the
 * view where that cannot be computed, because some of it is behind the camera.
 *
 * @param sunWay - The way of the light.
 */
export function seenOnStand(
  part: Box,
  surface: CardSurface,
  { stand, sheet: { picture }, views }: Pick<Scenery, 'stand' | 'sheet' | 'views'>,
  sunWay: Vector3,
): Viewport {
  const view = views.stand;
  const camera = makeStandCamera();
  placeStandCamera(camera, stand, view);
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
    return [p, p.clone().addScaledVector(sunWay, -p.y / sunWay.y)]; // and where its shadow meets the ground
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
