import type { StandLight } from '@lithe-sieve/core';
import type { Fog, Group } from 'three';

/** Sky, ground, lights and things behind: all that a card is seen in. */
export interface Environment {
  /** What is put into the scene. */
  readonly root: Group;
  readonly fog: Fog | null;
  setLight(light: StandLight): void;
  /** Things behind stand beyond the card from wherever it is looked at. */
  turn(seesFront: boolean): void;
  dispose(): void;
}
