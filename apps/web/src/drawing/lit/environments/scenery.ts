import type { ThingsBehind } from '@lithe-sieve/core';
import * as THREE from 'three';
import { hurdle } from './hurdle';
import { disposeAll, readGround, thingsBehind } from './things';

const THINGS: Record<ThingsBehind, () => THREE.Group> = {
  'float and post': thingsBehind,
  hurdle,
  nothing: () => new THREE.Group(),
};

/** Sky, ground, and what stands behind the card. */
export class Scenery {
  readonly root = new THREE.Group();
  private readonly open = new THREE.Group();
  private things: { name: ThingsBehind; group: THREE.Group } | null = null;

  constructor(
    dome: THREE.Mesh,
    private readonly ground: THREE.Mesh,
  ) {
    // the near first, so that what they hide is not shaded: card, things, ground, sky
    this.open.renderOrder = 2;
    dome.renderOrder = 1;
    this.open.add(ground, dome);
    this.root.add(this.open);
  }

  /** For pictures that are taken while nothing moves. */
  setFine(isFine: boolean): void {
    readGround(this.ground, isFine);
  }

  /** @param isOpen - Whether sky and ground are there. @param seesFront - Things stand beyond the card from wherever it is looked at. */
  show(things: ThingsBehind, isOpen: boolean, seesFront: boolean): void {
    this.open.visible = isOpen;
    if (this.things?.name !== things) {
      const before = this.things?.group;
      this.things = { name: things, group: THINGS[things]() };
      this.things.group.renderOrder = 1;
      this.root.add(this.things.group);
      before?.removeFromParent();
      if (before) disposeAll(before);
    }
    this.things.group.rotation.y = seesFront ? 0 : Math.PI;
  }
}
