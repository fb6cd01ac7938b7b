import type { StandLight } from '@lithe-sieve/core';
import type { Fog, Group } from 'three';
import type { LightSample } from '../shadowed';
import type { Scenery } from './scenery';

/** Sky, ground, lights and things behind: all that a card is seen in. */
export interface Environment {
  /** What is put into the scene. */
  readonly root: Group;
  readonly fog: Fog | null;
  setLight(light: StandLight): void;
  /** For one of many pictures, a part of the light; null: all of it at once. */
  sample(of: LightSample | null): void;
  /** What its light falls on beside the card. */
  readonly scenery: Scenery;
  dispose(): void;
}
