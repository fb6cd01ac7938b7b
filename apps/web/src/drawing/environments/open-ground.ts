import * as THREE from 'three';
import type { Environment } from './environment';

/** A plain ground under a sky, a ball and a post behind the card, one sun that casts a shadow. */
export interface OpenGround {
  kind: 'open ground';
  /** 0xrrggbb. */
  sky: readonly [above: number, horizon: number];
  ground: number;
  /** How much light comes from around. */
  fill: number;
}

const SUN_FROM = new THREE.Vector3(-1.6, 2.4, 1.9);
const SUN_TO = new THREE.Vector3(0, 0.3, -0.3);

export function openGround({ sky, ground: groundColour, fill }: OpenGround): Environment {
  const root = new THREE.Group();
  const behind = thingsBehind();
  const ground = new THREE.Mesh(
    new THREE.CircleGeometry(60, 48),
    new THREE.MeshStandardMaterial({ roughness: 1, color: groundColour }),
  );
  ground.rotation.x = -Math.PI / 2;
  ground.receiveShadow = true;
  const sun = makeSun();
  const around = new THREE.HemisphereLight(0xe8eef2, 0x9a8f7c, fill);
  root.add(makeSky(sky), ground, behind, around, sun, sun.target);
  return {
    root,
    fog: new THREE.Fog(sky[1], 8, 60),
    shadowWay: SUN_TO.clone().sub(SUN_FROM),
    turn: (seesFront) => void (behind.rotation.y = seesFront ? 0 : Math.PI),
    dispose() {
      sun.dispose();
      root.traverse((one) => {
        if (!(one instanceof THREE.Mesh)) return;
        (one.geometry as THREE.BufferGeometry).dispose();
        (one.material as THREE.Material).dispose();
      });
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

function thingsBehind(): THREE.Group {
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
  for (const one of [ball, post]) one.castShadow = one.receiveShadow = true;
  return new THREE.Group().add(ball, post);
}

function makeSun(): THREE.DirectionalLight {
  const sun = new THREE.DirectionalLight(0xfff1dc, 2.6);
  sun.position.copy(SUN_FROM);
  sun.target.position.copy(SUN_TO);
  sun.castShadow = true;
  sun.shadow.mapSize.set(1024, 1024);
  Object.assign(sun.shadow.camera, { left: -1.3, right: 1.3, top: 1.3, bottom: -1.3, near: 0.1, far: 8 });
  sun.shadow.bias = -0.002;
  return sun;
}
