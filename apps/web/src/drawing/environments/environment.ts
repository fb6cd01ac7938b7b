import type { Fog, Group, Vector3 } from 'three';

/** Sky, ground, lights and things behind: all that a card is seen in. */
export interface Environment {
  /** What is put into the scene. */
  readonly root: Group;
  readonly fog: Fog | null;
  /** The way of the light whose shadow falls on the ground; null where none does. */
  readonly shadowWay: Vector3 | null;
  /** Things behind stand beyond the card from wherever it is looked at. */
  turn(seesFront: boolean): void;
  dispose(): void;
}
