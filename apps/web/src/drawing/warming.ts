import { CLIP_DRAWING_DEFAULTS } from '@lithe-sieve/core';
import type { Scenery } from './messages';

const at = (x: number) => ({ x, y: 0, width: 32, height: 32 });

/** A view of every kind, as they are looked at first: what compiles their shaders. */
export const WARMING: Scenery = {
  canvas: { width: 64, height: 32 },
  pixelRatio: 1,
  views: [
    {
      kind: 'flat',
      id: 'flat',
      piece: 'warming',
      rect: at(0),
      look: { centre: { x: 0.5, y: 0.5 }, zoom: 1, picture: { width: 1, height: 1 } },
      mode: 'kept',
      mapLook: 'whole',
      beneath: false,
      softMarked: true,
    },
    {
      kind: 'lit',
      id: 'lit',
      piece: 'warming',
      rect: at(32),
      camera: { kind: 'around', azimuth: 0, elevation: 0, distance: 2, middle: [0, 0.5, 0] },
      environment: 'clear',
      drawn: CLIP_DRAWING_DEFAULTS,
    },
  ],
};
