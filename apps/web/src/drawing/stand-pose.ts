import { cardSurface, type CardSurface, type SurfaceHit, type Vec3 } from '@lithe-sieve/core';
import { Vector3 } from 'three';
import { around, FIELD_OF_VIEW, halfView, type AroundLook } from './cameras/around';
import { toView } from './lit/lit-part';
import { clamp, WHOLE_CARD, type Point, type Size } from './poses';

/** Times as far as the card is nearly at the horizon. */
const FAR = 1e4;
/** Around a part that is looked at. */
const ROOM = 1.25;

export const STAND_SIDES = ['front', 'edge on', 'back', 'top'] as const;
export type StandSide = (typeof STAND_SIDES)[number];
const SIDES: Record<StandSide, readonly [azimuth: number, elevation: number]> = {
  front: [0, 0],
  'edge on': [Math.PI / 2, 0],
  back: [Math.PI, 0],
  top: [0, 1.45],
};

/** Where the camera is, and what it is aimed at instead of the middle of the card. */
export interface StandPlace {
  azimuth: number;
  elevation: number;
  aim: { u: number; v: number } | null;
}

const FROM_THE_FRONT: StandPlace = { azimuth: 0.42, elevation: 0.16, aim: null };

/** The camera that goes round the card, and what of the card lies under a point of the view. */
export class StandPose {
  private azimuth = FROM_THE_FRONT.azimuth;
  private elevation = FROM_THE_FRONT.elevation;
  private distance = WHOLE_CARD;
  private fieldOfView: number = FIELD_OF_VIEW;
  private card = cardSurface({ cardWidth: 1 }, { width: 1, height: 1 });
  /** A place of the picture that is looked at instead of the middle of the card. */
  private aim: { u: number; v: number } | null = null;
  /** What the camera is aimed at whatever becomes of the card, while that is dragged. */
  private held: Vec3 | null = null;
  private readonly camera = around.make();

  get look(): AroundLook {
    const { azimuth, elevation, distance, card, aim, fieldOfView } = this;
    const middle = this.held ?? (aim && card.pointAt(aim.u, aim.v)?.position) ?? middleOf(card);
    return { kind: 'around', azimuth, elevation, distance, middle, fieldOfView };
  }

  /** The card on the Stand: its longer side is 1, so that a small one and a large one are seen alike. */
  get surface(): CardSurface {
    return this.card;
  }

  setSurface(surface: CardSurface): void {
    this.card = surface;
  }

  get place(): StandPlace {
    const { azimuth, elevation, aim } = this;
    return { azimuth, elevation, aim };
  }

  /** @param place - null: from the front. */
  takeUp(place: StandPlace | null): void {
    ({ azimuth: this.azimuth, elevation: this.elevation, aim: this.aim } = place ?? FROM_THE_FRONT);
  }

  /** Looks at a place of the picture, or at the whole card. */
  aimAt(place: { u: number; v: number } | null): void {
    this.aim = place;
  }

  /** Card sides from which a part of the picture, in shares of the card's longer side, fills the view. */
  distanceFor(width: number, height: number, view: Size): number {
    const half = this.halfView;
    const across = (width * view.height) / Math.max(1, view.width);
    return (ROOM * Math.max(across, height)) / (2 * half);
  }

  orbitBy(dx: number, dy: number): void {
    this.azimuth -= dx * 0.008;
    this.elevation = clamp(this.elevation + dy * 0.006, -0.02, 1.45);
  }

  /** Round the card. @param by - Radians. */
  turnBy(by: number): void {
    this.azimuth += by;
  }

  /** Tangent of half the field of view. */
  private get halfView(): number {
    return halfView(this.fieldOfView);
  }

  /** @returns times as far as the camera is then, for the card to be seen as large as before. */
  setFieldOfView(degrees: number): number {
    const before = this.halfView;
    this.fieldOfView = degrees;
    return before / this.halfView;
  }

  /** Straight from one side. */
  seenFrom(side: StandSide): void {
    [this.azimuth, this.elevation] = SIDES[side];
  }

  /** To the same view of the other face. */
  flip(): void {
    this.azimuth += Math.PI;
  }

  setDistance(sides: number): void {
    this.distance = sides;
  }

  get seesFront(): boolean {
    return around.seesFront(this.look);
  }

  get azimuthDegrees(): number {
    return Math.round(((((this.azimuth * 180) / Math.PI) % 360) + 360) % 360);
  }

  /** Mip level that the card is seen at, from the height of one texel on the screen; 0 is full size. */
  mipLevel(pictureHeight: number, view: Size, pixelRatio: number): number {
    const tall = (heightOf(this.card) / (2 * this.distance * this.halfView)) * view.height * pixelRatio;
    return Math.max(0, Math.log2(pictureHeight / tall));
  }

  /** Where on the picture, 0–1 from the top left, a point of the view falls; null beside the card. */
  pictureAt(x: number, y: number, view: Size): SurfaceHit | null {
    around.place(this.camera, this.look, view);
    const through = new Vector3((x / view.width) * 2 - 1, 1 - (y / view.height) * 2, 0.5).unproject(this.camera);
    const from = this.camera.position;
    return this.card.hit({ from: from.toArray(), way: through.sub(from).toArray() });
  }

  /** Keeps what is in the middle of the view there, or no longer. */
  holdMiddle(isHeld: boolean): void {
    this.held = isHeld ? this.look.middle : null;
  }

  /** Where on the ground a point of the view falls; null above the horizon. */
  groundAt(x: number, y: number, view: Size): [x: number, z: number] | null {
    around.place(this.camera, this.look, view);
    const through = new Vector3((x / view.width) * 2 - 1, 1 - (y / view.height) * 2, 0.5).unproject(this.camera);
    const from = this.camera.position;
    const way = through.sub(from);
    if (way.y >= 0 || from.y <= 0) return null;
    return [from.x - (way.x * from.y) / way.y, from.z - (way.z * from.y) / way.y];
  }

  /** Where in the view a place of the ground is seen; null behind the camera. */
  seenOnGround([x, z]: readonly [number, number], view: Size): Point | null {
    return this.seen(new Vector3(x, 0, z), view);
  }

  /** Where in the view a place is seen that lies so far from what the camera looks at; null behind the camera. */
  seenAround([dx, dy, dz]: Vec3, view: Size): Point | null {
    const [x, y, z] = this.look.middle;
    return this.seen(new Vector3(x + dx, y + dy, z + dz), view);
  }

  private seen(at: Vector3, view: Size): Point | null {
    around.place(this.camera, this.look, view);
    const isBehind = at.clone().applyMatrix4(this.camera.matrixWorldInverse).z > -this.camera.near;
    return isBehind ? null : toView(at, this.camera, view);
  }

  /** How far down the view the horizon is, CSS pixels. */
  horizon(view: Size): number {
    around.place(this.camera, this.look, view);
    const [x, , z] = this.look.middle;
    const { position } = this.camera;
    const far = new Vector3(position.x + FAR * (x - position.x), position.y, position.z + FAR * (z - position.z));
    return Math.round(toView(far, this.camera, view).y);
  }

  /** Where in the view a place of the picture is seen. @param on - What it lies on. */
  pointOf(u: number, v: number, view: Size, on = this.card): Point {
    around.place(this.camera, this.look, view);
    const at = on.pointAt(u, v)?.position ?? this.look.middle;
    return toView(new Vector3(...at), this.camera, view);
  }
}

function middleOf({ bounds: { min, max } }: CardSurface): Vec3 {
  return [0, 1, 2].map((i) => (min[i] + max[i]) / 2) as unknown as Vec3;
}

function heightOf({ bounds: { min, max } }: CardSurface): number {
  return max[1] - min[1];
}
