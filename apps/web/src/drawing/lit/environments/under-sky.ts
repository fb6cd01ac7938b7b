import { harmonicsOf, radianceAround, surroundings, type SkyName, type StandLight } from '@lithe-sieve/core';
import * as THREE from 'three';
import type { LightSample } from '../shadowed';
import type { Environment } from './environment';
import { Scenery } from './scenery';
import { aroundCamera, disposeAll, lightOne, makeGround, makeSun } from './things';

/** A ground, a ball and a post under a sky that is computed: it lights all of them, and so does its sun. */
export interface UnderSky {
  kind: 'under a sky';
  sky: SkyName;
}

/** What the ground gives back of the light in the mean, linear sRGB: weathered boards. */
const GROUND = [0.3, 0.27, 0.22] as const;

export function underSky({ sky }: UnderSky): Environment {
  const root = new THREE.Group();
  const sun = makeSun();
  const dome = new THREE.Mesh(
    new THREE.SphereGeometry(200, 48, 32),
    new THREE.MeshBasicMaterial({ side: THREE.BackSide, fog: false }),
  );
  const scenery = new Scenery(aroundCamera(dome), makeGround(null));
  root.add(scenery.root, sun, sun.target);
  // the sky is smooth: nine harmonics light what is in it as a filtered picture would, at a thousandth of the work
  const probe = new THREE.LightProbe();
  root.add(probe);
  let lit: { light: StandLight; around: ReturnType<typeof surroundings> } | null = null;
  function sample(of: LightSample | null): void {
    if (!lit) return;
    const { light, around } = lit;
    probe.intensity = of?.of === 'sky' ? 0 : 1;
    dome.visible = of?.of !== 'sky';
    lightOne(sun, light, of, new THREE.Color(...around.sun), (way) => radianceAround(around, way));
  }
  return {
    root,
    fog: null,
    setLight(light) {
      const around = surroundings(sky, light, GROUND);
      for (const [k, colour] of harmonicsOf(around).entries()) probe.sh.coefficients[k].set(...colour);
      dome.material.map?.dispose();
      dome.material.map = pictureOf(around);
      sun.intensity = 1;
      lit = { light, around };
      sample(null);
    },
    sample,
    scenery,
    dispose() {
      dome.material.map?.dispose();
      sun.dispose();
      disposeAll(root);
    },
  };
}

/** What is seen above the ground, which goes on below the horizon as it is there; half floats, which every device filters. */
function pictureOf({ width, height, data }: ReturnType<typeof surroundings>): THREE.DataTexture {
  const halves = Uint16Array.from(data, (v) => THREE.DataUtils.toHalfFloat(Math.min(v, 60_000)));
  const horizon = 4 * width * (height / 2);
  for (let at = 0; at < horizon; at += 4 * width) halves.copyWithin(at, horizon, horizon + 4 * width);
  const texture = new THREE.DataTexture(halves, width, height, THREE.RGBAFormat, THREE.HalfFloatType);
  // a sphere has its longitudes the other way round
  texture.wrapS = THREE.RepeatWrapping;
  texture.repeat.x = -1;
  texture.minFilter = texture.magFilter = THREE.LinearFilter;
  texture.needsUpdate = true;
  return texture;
}
