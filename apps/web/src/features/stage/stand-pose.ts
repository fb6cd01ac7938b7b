import type { CardSize } from '@lithe-sieve/core';
import { PerspectiveCamera, Plane, Ray, Vector3 } from 'three';
import { clamp, type Point, type Size } from './poses';

const FIELD_OF_VIEW = 34;

/** From where the Stand is seen. The card's longer side is 1. */
export interface StandLook {
  /** Radians from the front. */
  azimuth: number;
  /** Radians above the horizon. */
  elevation: number;
  /** Card sides between camera and card. */
  distance: number;
  card: CardSize;
}

/** The camera that goes round the card, and what of the card lies under a point of the view. */
export class StandPose {
  private azimuth = 0.42;
  private elevation = 0.16;
  private distance = 1.9;
  private card: CardSize = { width: 1, height: 1 };
  private readonly camera = makeStandCamera();

  get look(): StandLook {
    const { azimuth, elevation, distance, card } = this;
    return { azimuth, elevation, distance, card };
  }

  setCard(width: number, height: number): void {
    const longest = Math.max(width, height);
    this.card = { width: width / longest, height: height / longest };
  }

  orbitBy(dx: number, dy: number): void {
    this.azimuth -= dx * 0.008;
    this.elevation = clamp(this.elevation + dy * 0.006, -0.02, 1.45);
  }

  /** To the same view of the other face. */
  flip(): void {
    this.azimuth += Math.PI;
  }

  setDistance(sides: number): void {
    this.distance = sides;
  }

  get seesFront(): boolean {
    return seesFront(this.look);
  }

  get azimuthDegrees(): number {
    return Math.round(((((this.azimuth * 180) / Math.PI) % 360) + 360) % 360);
  }

  /** Mip level that the card is seen at, from the height of one texel on the screen; 0 is full size. */
  mipLevel(pictureHeight: number, view: Size, pixelRatio: number): number {
    const tall =
      (this.card.height / (2 * this.distance * Math.tan((FIELD_OF_VIEW * Math.PI) / 360))) * view.height * pixelRatio;
    return Math.max(0, Math.log2(pictureHeight / tall));
  }

  /** Where on the picture, 0–1 from the top left, a point of the view falls; null beside the card. */
  pictureAt(x: number, y: number, view: Size): { u: number; v: number } | null {
    placeStandCamera(this.camera, this.look, view);
    const through = new Vector3((x / view.width) * 2 - 1, 1 - (y / view.height) * 2, 0.5).unproject(this.camera);
    const ray = new Ray(this.camera.position, through.sub(this.camera.position).normalize());
    const hit = ray.intersectPlane(CARD_PLANE, new Vector3());
    if (!hit) return null;
    const u = hit.x / this.card.width + 0.5;
    const v = 1 - hit.y / this.card.height;
    return u >= 0 && u < 1 && v >= 0 && v < 1 ? { u, v } : null;
  }

  /** Where in the view a place of the picture is seen. */
  pointOf(u: number, v: number, view: Size): Point {
    placeStandCamera(this.camera, this.look, view);
    return toView(onCard(u, v, this.card), this.camera, view);
  }
}

/** Where a place of the picture, 0–1 from the top left, stands in space. */
export function onCard(u: number, v: number, { width, height }: CardSize): Vector3 {
  return new Vector3((u - 0.5) * width, (1 - v) * height, 0);
}

export function toView(place: Vector3, camera: PerspectiveCamera, view: Size): Point {
  const at = place.clone().project(camera);
  return { x: ((at.x + 1) / 2) * view.width, y: ((1 - at.y) / 2) * view.height };
}

const CARD_PLANE = new Plane(new Vector3(0, 0, 1), 0);

/** Whether the camera sees the face that the picture was drawn for. */
export function seesFront({ azimuth }: StandLook): boolean {
  return Math.cos(azimuth) >= 0;
}

export function makeStandCamera(): PerspectiveCamera {
  return new PerspectiveCamera(FIELD_OF_VIEW, 1, 0.05, 400);
}

/** Puts a camera where the look says, aimed at the card's middle. */
export function placeStandCamera(camera: PerspectiveCamera, look: StandLook, view: Size): void {
  const { azimuth, elevation, distance, card } = look;
  const middle = card.height / 2;
  const flat = Math.cos(elevation) * distance;
  camera.position.set(
    Math.sin(azimuth) * flat,
    Math.max(0.02, middle + Math.sin(elevation) * distance),
    Math.cos(azimuth) * flat,
  );
  camera.aspect = view.width / view.height;
  camera.lookAt(0, middle, 0);
  camera.updateProjectionMatrix();
  camera.updateMatrixWorld();
}
