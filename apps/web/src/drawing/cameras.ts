import type { PerspectiveCamera } from 'three';
import { around, type AroundLook } from './cameras/around';
import type { Size } from './poses';

/** From where a card is seen. A kind of camera is its file and a line in each of these. */
export type CameraLook = AroundLook;

interface CameraKind<L extends CameraLook> {
  make(): PerspectiveCamera;
  /** Puts it where the look says, for a view of this size. */
  place(camera: PerspectiveCamera, look: L, view: Size): void;
  seesFront(look: L): boolean;
  /** How long a pixel is at what the camera is aimed at, in sides of the card. */
  pixelAt(look: L, view: Size): number;
}

const CAMERAS: { [K in CameraLook['kind']]: CameraKind<Extract<CameraLook, { kind: K }>> } = { around };

export function cameraKind({ kind }: CameraLook): CameraKind<CameraLook> {
  return CAMERAS[kind];
}
