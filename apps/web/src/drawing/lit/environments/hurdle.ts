import { chance } from '@lithe-sieve/core';
import * as THREE from 'three';
import { dullSurface } from '../shadowed';
import { postTexture } from './wood';

/** In sides of the card. */
const [WIDE, TALL, BEHIND] = [1.9, 0.72, -0.62];
const [STAKES, RODS] = [7, 13];
const [THICK, THIN] = [0.026, 0.018];

/** Rods woven round stakes, as shepherds have them. */
export function hurdle(): THREE.Group {
  const surface = dullSurface({ map: postTexture() });
  surface.shadowSide = THREE.DoubleSide;
  const group = new THREE.Group();
  const add = (geometry: THREE.BufferGeometry) => {
    const one = new THREE.Mesh(geometry, surface);
    one.castShadow = one.receiveShadow = true;
    group.add(one);
    return one;
  };
  const apart = WIDE / (STAKES - 1);
  for (let k = 0; k < STAKES; k++) {
    const tall = TALL * (1.06 + 0.1 * chance(1, k));
    add(new THREE.CylinderGeometry(0.8 * THICK, THICK, tall, 10)).position.set(k * apart - WIDE / 2, tall / 2, BEHIND);
  }
  for (let k = 0; k < RODS; k++) add(rod(k, apart));
  return group;
}

/** In front of every other stake, behind those between; the next rod the other way round. */
function rod(k: number, apart: number): THREE.BufferGeometry {
  const side = k % 2 === 0 ? 1 : -1;
  const y = (TALL * (k + 0.7)) / RODS;
  const points = Array.from({ length: 2 * STAKES + 1 }, (_, i) => {
    const x = (i - STAKES) * (apart / 2);
    const way = Math.cos((Math.PI * (x + WIDE / 2)) / apart);
    const [up, along] = [0.012 * (chance(2, 40 * k + i) - 0.5), 0.02 * (chance(3, 40 * k + i) - 0.5)];
    return new THREE.Vector3(x + along, y + up, BEHIND + side * way * (THICK + THIN));
  });
  const thick = THIN * (0.8 + 0.4 * chance(4, k));
  return new THREE.TubeGeometry(new THREE.CatmullRomCurve3(points), 84, thick, 7);
}
