import { planckian, rgbOf, sunWay, type StandLight } from '@lithe-sieve/core';
import * as THREE from 'three';

/** What the sun is aimed at: a card's longer side is 1. */
const MIDDLE = new THREE.Vector3(0, 0.3, -0.3);
/** Far enough for all that casts shadows. */
const SUN_FAR = 3.44;

export function makeGround(colour: THREE.Color): THREE.Mesh {
  const ground = new THREE.Mesh(
    new THREE.CircleGeometry(60, 48),
    new THREE.MeshStandardMaterial({ roughness: 1, color: colour }),
  );
  ground.rotation.x = -Math.PI / 2;
  ground.receiveShadow = true;
  return ground;
}

export function thingsBehind(): THREE.Group {
  const ball = new THREE.Mesh(
    new THREE.SphereGeometry(0.26, 40, 28),
    new THREE.MeshStandardMaterial({ color: 0xa8432f, roughness: 0.7 }),
  );
  ball.position.set(-0.32, 0.26, -0.55);
  const post = new THREE.Mesh(
    new THREE.CylinderGeometry(0.045, 0.05, 1.05, 20),
    new THREE.MeshStandardMaterial({ color: 0x6f6353, roughness: 0.9 }),
  );
  post.position.set(0.34, 0.525, -0.8);
  // both the same: one shader serves them
  for (const one of [ball, post]) {
    one.castShadow = one.receiveShadow = true;
    one.material.shadowSide = THREE.DoubleSide; // back faces alone let light in where they stand
  }
  return new THREE.Group().add(ball, post);
}

export function makeSun(): THREE.DirectionalLight {
  const sun = new THREE.DirectionalLight();
  sun.target.position.copy(MIDDLE);
  sun.castShadow = true;
  sun.shadow.mapSize.set(1024, 1024);
  Object.assign(sun.shadow.camera, { left: -1.3, right: 1.3, top: 1.3, bottom: -1.3, near: 0.1, far: 8 });
  sun.shadow.bias = -0.002;
  sun.shadow.normalBias = 0.012;
  return sun;
}

/** The way that light of the sun goes. */
export function shadowWayOf({ height, turn }: StandLight): THREE.Vector3 {
  return new THREE.Vector3(...sunWay(height, turn)).negate();
}

export function placeSun(sun: THREE.DirectionalLight, light: StandLight): void {
  sun.position.copy(MIDDLE).addScaledVector(shadowWayOf(light), -SUN_FAR);
}

/** Of its warmth, as bright as white. */
export function sunColour({ warmth }: StandLight): THREE.Color {
  return new THREE.Color(...rgbOf(1, ...planckian(warmth)));
}

/** Frees what was made for a scene. */
export function disposeAll(root: THREE.Group): void {
  root.traverse((one) => {
    if (!(one instanceof THREE.Mesh)) return;
    (one.geometry as THREE.BufferGeometry).dispose();
    (one.material as THREE.Material).dispose();
  });
}
