import { strewn } from '@lithe-sieve/core';
import * as THREE from 'three';

const SEED = 7;
const UP = new THREE.Vector3(0, 1, 0);

/** The card alone, or with copies strewn around it. */
export class Copies {
  private many: THREE.InstancedMesh | null = null;

  constructor(
    private readonly scene: THREE.Scene,
    private readonly card: THREE.Mesh<THREE.BufferGeometry, THREE.Material>,
  ) {}

  /** Of the card as it is now. @param count - 1: it is alone. */
  set(count: number): void {
    if (this.many?.count !== count) this.strew(count);
    if (!this.many) return;
    this.many.geometry = this.card.geometry;
    this.many.receiveShadow = this.card.receiveShadow;
  }

  dispose(): void {
    this.many?.dispose();
  }

  private strew(count: number): void {
    this.many?.removeFromParent();
    this.many?.dispose();
    this.many = count > 1 ? copiesOf(this.card, count) : null;
    this.card.visible = this.many === null;
    if (this.many) this.scene.add(this.many);
  }
}

/** Drawn at once. */
function copiesOf(card: THREE.Mesh<THREE.BufferGeometry, THREE.Material>, count: number): THREE.InstancedMesh {
  const { places, turns, sizes, tints } = strewn(count, SEED);
  const many = new THREE.InstancedMesh(card.geometry, card.material, count);
  const [at, turned, size, matrix] = [
    new THREE.Vector3(),
    new THREE.Quaternion(),
    new THREE.Vector3(),
    new THREE.Matrix4(),
  ];
  const tint = new THREE.Color();
  for (let i = 0; i < count; i++) {
    at.set(places[2 * i], 0, places[2 * i + 1]);
    matrix.compose(at, turned.setFromAxisAngle(UP, turns[i]), size.setScalar(sizes[i]));
    many.setMatrixAt(i, matrix);
    many.setColorAt(i, tint.setScalar(tints[i]));
  }
  many.customDepthMaterial = card.customDepthMaterial;
  many.castShadow = true;
  many.frustumCulled = false; // they are everywhere
  return many;
}
