import { strewn } from '@lithe-sieve/core';
import * as THREE from 'three';

const SEED = 7;
const UP = new THREE.Vector3(0, 1, 0);

/** Copies of the card strewn on the ground, drawn at once. */
export function copiesOf(card: THREE.Mesh<THREE.BufferGeometry, THREE.Material>, count: number): THREE.InstancedMesh {
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
