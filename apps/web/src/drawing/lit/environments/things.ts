import { planckian, rgbOf, sunWay, type StandLight, type Vec3 } from '@lithe-sieve/core';
import * as THREE from 'three';
import { SUNS_PER_SKY } from '../samples';
import { boardsTexture, fineBoards, floatTexture, plainTexture, postTexture } from './wood';
import { BLOCKED_ONLY, dullSurface, type LightSample } from '../shadowed';

/** What the sun is aimed at: a card's longer side is 1. */
const MIDDLE = new THREE.Vector3(0, 0.3, -0.3);
/** Far enough for all that casts shadows. */
const SUN_FAR = 3.44;

const GROUND_RADIUS = 9000;

/** @param colour - Of a plain one; null: boards. */
export function makeGround(colour: THREE.Color | null): THREE.Mesh {
  const map = colour ? plainTexture() : boardsTexture(2 * GROUND_RADIUS);
  const surface = dullSurface({ color: colour ?? 0xffffff, map });
  const ground = new THREE.Mesh(new THREE.CircleGeometry(GROUND_RADIUS, 96), surface);
  ground.rotation.x = -Math.PI / 2;
  ground.receiveShadow = true;
  return ground;
}

/** @param isFine - Whether it is read with care, which takes its time. */
export function readGround(ground: THREE.Mesh, isFine: boolean): void {
  const surface = ground.material as THREE.MeshLambertMaterial;
  const boards = boardsTexture(2 * GROUND_RADIUS);
  if (surface.map !== plainTexture()) surface.map = isFine ? fineBoards(boards) : boards;
}

/** The sky is round the camera, wherever that goes. */
export function aroundCamera(dome: THREE.Mesh): THREE.Mesh {
  dome.frustumCulled = false;
  dome.onBeforeRender = (_renderer, _scene, camera) => {
    dome.matrixWorld.makeScale(DOME_SCALE, DOME_SCALE, DOME_SCALE).setPosition(camera.position);
  };
  return dome;
}
/** Beyond all ground that is seen. */
const DOME_SCALE = 75;

export function thingsBehind(): THREE.Group {
  const ball = new THREE.Mesh(new THREE.SphereGeometry(0.26, 40, 28), dullSurface({ map: floatTexture() }));
  ball.position.set(-0.32, 0.26, -0.55);
  const post = new THREE.Mesh(new THREE.CylinderGeometry(0.045, 0.05, 1.05, 20), dullSurface({ map: postTexture() }));
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

/** Of a shadow of one direction of the sky, texels: it stands for those around it, too. */
const SKY_SOFTNESS = 10;

/** The way that light of the sun goes. */
export function shadowWayOf({ height, turn }: StandLight): THREE.Vector3 {
  return new THREE.Vector3(...sunWay(height, turn)).negate();
}

/** @param at - A place of its disc, from 0 to 1 in both; left out: its middle. */
export function placeSun(sun: THREE.DirectionalLight, light: StandLight, at?: LightSample['at']): void {
  const way = shadowWayOf(light).negate();
  if (at) {
    const across = new THREE.Vector3(0, 1, 0).cross(way);
    if (across.lengthSq() < 1e-9) across.set(1, 0, 0);
    across.normalize();
    const [from, turn] = [Math.tan((light.size * Math.PI) / 360) * Math.sqrt(at[0]), 2 * Math.PI * at[1]];
    const up = new THREE.Vector3().crossVectors(way, across);
    way.addScaledVector(across, from * Math.cos(turn)).addScaledVector(up, from * Math.sin(turn));
    way.normalize();
  }
  sun.position.copy(MIDDLE).addScaledVector(way, SUN_FAR);
}

/** How one of many pictures is lit: by the sun as `sunColour` has it, or by what of the sky is blocked. @param skyAt - Its radiance. */
export function lightOne(
  sun: THREE.DirectionalLight,
  light: StandLight,
  of: LightSample | null,
  sunColour: THREE.Color,
  skyAt: (way: Vec3) => Vec3,
): void {
  const isSky = of?.of === 'sky';
  BLOCKED_ONLY.value = isSky ? 1 : 0;
  sun.shadow.radius = isSky ? SKY_SOFTNESS : 1;
  if (!isSky) {
    placeSun(sun, light, of?.at);
    sun.color.copy(sunColour);
    return;
  }
  const [up, turn] = [of.at[0], 2 * Math.PI * of.at[1]];
  const flat = Math.sqrt(1 - up * up);
  const way: Vec3 = [flat * Math.cos(turn), up, flat * Math.sin(turn)];
  sun.position.copy(MIDDLE).addScaledVector(new THREE.Vector3(...way), SUN_FAR);
  // every direction of half a sphere is as likely
  const [r, g, b] = skyAt(way).map((v) => v * 2 * Math.PI * SUNS_PER_SKY);
  sun.color.setRGB(r, g, b);
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
