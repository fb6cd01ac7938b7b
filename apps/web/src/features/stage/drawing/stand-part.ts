import type { Box } from '@lithe-sieve/core';
import type { Vector3 } from 'three';
import { clamp, pixelsAround, type Viewport } from '../poses';
import { makeStandCamera, onCard, placeStandCamera, toView } from '../stand-pose';
import type { Scenery } from './messages';

/** Of the shadow's rim, CSS pixels, seen from as near as it can be. */
const SHADOW_SOFTNESS = 8;

/**
 * Where a part of the picture, and the shadow that it casts, are seen on the Stand: nothing else changes with it. All of the
 * view where that cannot be told, because some of it is behind the camera.
 *
 * @param sunWay - The way of the light.
 */
export function seenOnStand(
  part: Box,
  { stand, sheet: { picture }, views }: Pick<Scenery, 'stand' | 'sheet' | 'views'>,
  sunWay: Vector3,
): Viewport {
  const view = views.stand;
  const camera = makeStandCamera();
  placeStandCamera(camera, stand, view);
  const inSpace = (x: number, y: number) => onCard(x / picture.width, y / picture.height, stand.card);
  const seen = (p: Vector3) => toView(p, camera, view);
  const pixelsOf = (x: number, y: number, dx: number, dy: number) => {
    const [a, b] = [seen(inSpace(x, y)), seen(inSpace(x + dx, y + dy))];
    return Math.hypot(b.x - a.x, b.y - a.y);
  };
  const least = Math.min(...cornersOf(part).flatMap(([x, y]) => [pixelsOf(x, y, 1, 0), pixelsOf(x, y, 0, 1)]));
  // how far the smaller levels carry a texel, on the card and on the sun's own picture of it
  const reach = Math.max(4 / Math.max(least, 1e-6), Math.max(picture.width, picture.height) / 48);
  const around = { x0: part.x0 - reach, y0: part.y0 - reach, x1: part.x1 + reach, y1: part.y1 + reach };
  const places = cornersOf(around).flatMap(([x, y]) => {
    const p = inSpace(clamp(x, 0, picture.width), clamp(y, 0, picture.height));
    return [p, p.clone().addScaledVector(sunWay, -p.y / sunWay.y)]; // and where its shadow meets the ground
  });
  const behind = places.some((p) => p.clone().applyMatrix4(camera.matrixWorldInverse).z > -camera.near);
  if (behind) return { x: 0, y: 0, width: view.width, height: view.height };
  return pixelsAround(places.map(seen), SHADOW_SOFTNESS, view);
}

function cornersOf({ x0, y0, x1, y1 }: Box): [number, number][] {
  return [
    [x0, y0],
    [x1, y0],
    [x0, y1],
    [x1, y1],
  ];
}
