import type { Vec3 } from '@lithe-sieve/core';
import { PerspectiveCamera } from 'three';
import type { Size } from '../poses';

/** Degrees from top to bottom at first. */
export const FIELD_OF_VIEW = 34;
/** Tangent of half a field of view in degrees. */
export const halfView = (degrees: number): number => Math.tan((degrees * Math.PI) / 360);
export const FIELDS_OF_VIEW = { min: 8, max: 100, step: 1, digits: 0 } as const;

const NEAREST = 0.05;
/** Card sides: a small card is still there at a hundred metres, and its ground with it. */
const FARTHEST = 20_000;

/** A camera that goes round the card at a distance. */
export interface AroundLook {
  kind: 'around';
  /** Radians from the front. */
  azimuth: number;
  /** Radians above the horizon. */
  elevation: number;
  /** Card sides between camera and card. */
  distance: number;
  /** What it is aimed at. */
  middle: Vec3;
  /** Degrees from top to bottom; left out: {@link FIELD_OF_VIEW}. */
  fieldOfView?: number;
}

export const around = {
  make: (): PerspectiveCamera => new PerspectiveCamera(FIELD_OF_VIEW, 1, NEAREST, FARTHEST),

  place(
    camera: PerspectiveCamera,
    { azimuth, elevation, distance, middle, fieldOfView }: AroundLook,
    view: Size,
  ): void {
    const flat = Math.cos(elevation) * distance;
    camera.position.set(
      middle[0] + Math.sin(azimuth) * flat,
      Math.max(0.02, middle[1] + Math.sin(elevation) * distance),
      middle[2] + Math.cos(azimuth) * flat,
    );
    camera.near = Math.max(NEAREST, distance / 50); // depths far away stay as fine as the card
    camera.fov = fieldOfView ?? FIELD_OF_VIEW;
    camera.aspect = view.width / view.height;
    camera.lookAt(...middle);
    camera.updateProjectionMatrix();
    camera.updateMatrixWorld();
  },

  pixelAt: ({ distance, fieldOfView }: AroundLook, { height }: Size): number =>
    (2 * distance * halfView(fieldOfView ?? FIELD_OF_VIEW)) / height,

  /** Whether it sees the face that the picture was drawn for. */
  seesFront: ({ azimuth }: AroundLook): boolean => Math.cos(azimuth) >= 0,
};
