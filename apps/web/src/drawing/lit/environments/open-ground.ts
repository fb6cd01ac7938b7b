import type { StandLight, Vec3 } from '@lithe-sieve/core';
import * as THREE from 'three';
import type { LightSample } from '../shadowed';
import type { Environment } from './environment';
import { Scenery } from './scenery';
import { aroundCamera, disposeAll, makeGround, makeSun, lightOne, sunColour } from './things';

/** A plain ground under a plain sky, a ball and a post behind the card, one sun that casts a shadow. */
export interface OpenGround {
  kind: 'open ground';
  /** 0xrrggbb. */
  sky: readonly [above: number, horizon: number];
  ground: number;
  /** How much light comes from around. */
  fill: number;
}

/** Of the sun at strength 1: with what comes from around it lights a white card to about 1. */
const SUN_LIGHT = 2.6;

export function openGround({ sky, ground: groundColour, fill }: OpenGround): Environment {
  const root = new THREE.Group();
  const sun = makeSun();
  const around = new THREE.HemisphereLight(0xe8eef2, 0x9a8f7c, fill);
  const dome = makeSky(sky);
  const fog = new THREE.Fog(sky[1], 8, 60);
  const scenery = new Scenery(aroundCamera(dome), makeGround(new THREE.Color(groundColour)));
  root.add(scenery.root, around, sun, sun.target);
  let lit: StandLight | null = null;
  // as bright from all over the sky as it lights a level surface
  const fromSky = around.color.toArray().map((v) => (v * fill) / Math.PI) as unknown as Vec3;
  function sample(of: LightSample | null): void {
    if (!lit) return;
    const isSky = of?.of === 'sky';
    around.intensity = isSky ? 0 : fill;
    dome.visible = !isSky;
    fog.color.set(isSky ? 0 : sky[1]);
    lightOne(sun, lit, of, sunColour(lit).multiplyScalar(SUN_LIGHT * lit.strength), () => fromSky);
  }
  return {
    root,
    fog,
    setLight(light) {
      sun.intensity = 1;
      lit = light;
      sample(null);
    },
    sample,
    scenery,
    dispose() {
      sun.dispose();
      disposeAll(root);
    },
  };
}

function makeSky(sky: OpenGround['sky']): THREE.Mesh {
  const [above, horizon] = sky.map((colour) => new THREE.Color(colour));
  const geometry = new THREE.SphereGeometry(200, 24, 24);
  const position = geometry.getAttribute('position');
  const colours = new Float32Array(position.count * 3);
  for (let i = 0; i < position.count; i++) {
    const up = Math.min(1, Math.max(0, position.getY(i) / 90));
    new THREE.Color().lerpColors(horizon, above, up).toArray(colours, 3 * i);
  }
  geometry.setAttribute('color', new THREE.BufferAttribute(colours, 3));
  return new THREE.Mesh(
    geometry,
    new THREE.MeshBasicMaterial({ side: THREE.BackSide, vertexColors: true, fog: false }),
  );
}
