import type { Behind, Picture } from '@lithe-sieve/core';
import * as THREE from 'three';
import type { Size } from '../poses';
import type { BehindPicture } from '../view-painter';
import { backdropOf, type Backdrop } from './backdrop';
import { disposeAll } from './environments/things';
import { dullSurface } from './shadowed';

/** What a picture behind is known by; null: it is none. */
export function keyOfBehind(behind: Behind): string | null {
  if (behind.kind === 'photograph') return behind.sha256;
  return behind.kind === 'piece' ? behind.id : null;
}

/** Sides of the card between it and another piece behind it. */
const STEP = 0.55;

/** A picture that is seen behind the card: a photograph in place of sky and ground, or another piece on a card of its own. */
export class BehindCard {
  readonly root = new THREE.Group();
  private texture: THREE.DataTexture | null = null;
  private shownPicture: Picture | null = null;
  private key = '';
  private standing: THREE.Mesh<THREE.PlaneGeometry, THREE.MeshLambertMaterial> | null = null;

  setPicture({ key, picture }: BehindPicture): void {
    if (picture === this.shownPicture) return; // a piece that was changed since has the same key
    this.letGo();
    this.shownPicture = picture;
    const { width, height, data } = picture;
    this.key = key;
    this.texture = new THREE.DataTexture(data, width, height, THREE.RGBAFormat);
    Object.assign(this.texture, {
      colorSpace: THREE.SRGBColorSpace,
      minFilter: THREE.LinearMipmapLinearFilter,
      magFilter: THREE.LinearFilter,
      generateMipmaps: true,
      needsUpdate: true,
    });
  }

  /** Names what is shown: the shadow depends on it. */
  get shown(): string {
    return this.standing?.visible ? this.key : '';
  }

  /** @returns what takes the place of sky and ground; null where they are seen. */
  show(behind: Behind, view: Size, seesFront: boolean): Backdrop | null {
    const texture = keyOfBehind(behind) === this.key ? this.texture : null;
    this.stand(behind.kind === 'piece' ? texture : null);
    this.root.rotation.y = seesFront ? 0 : Math.PI;
    return backdropOf(behind, texture, view);
  }

  dispose(): void {
    this.letGo();
    disposeAll(this.root);
  }

  private stand(texture: THREE.DataTexture | null): void {
    if (!texture) {
      if (this.standing) this.standing.visible = false;
      return;
    }
    this.standing ??= this.makeStanding(texture);
    this.standing.visible = true;
  }

  private makeStanding(map: THREE.DataTexture) {
    const { width, height } = map.image as Size;
    const longer = Math.max(width, height);
    const [w, h] = [width / longer, height / longer];
    const look = { map, alphaTest: 0.5, side: THREE.DoubleSide };
    const one = new THREE.Mesh(new THREE.PlaneGeometry(w, h), dullSurface(look));
    const uv = one.geometry.getAttribute('uv');
    for (let i = 0; i < uv.count; i++) uv.setY(i, 1 - uv.getY(i)); // rows from the top
    one.customDepthMaterial = new THREE.MeshDepthMaterial({ ...look, depthPacking: THREE.RGBADepthPacking });
    one.castShadow = one.receiveShadow = true;
    one.position.set(-0.22, h / 2, -STEP);
    this.root.add(one);
    return one;
  }

  private letGo(): void {
    this.texture?.dispose();
    this.texture = null;
    this.shownPicture = null;
    this.key = '';
    if (!this.standing) return;
    this.standing.removeFromParent();
    this.standing.geometry.dispose();
    this.standing.material.dispose();
    this.standing.customDepthMaterial!.dispose();
    this.standing = null;
  }
}
