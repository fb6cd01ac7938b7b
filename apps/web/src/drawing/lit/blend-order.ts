import * as THREE from 'three';

/** How a renderer lays triangles of mode blend over each other. */
export const BLEND_ORDERS = ['depth', 'mesh', 'triangles'] as const;
export type BlendOrder = (typeof BLEND_ORDERS)[number];

/** More are left in the order of the mesh: sorting them would take longer than drawing them. */
const MOST_SORTED = 100_000;

/** The same geometry with its triangles from far to near; keeps what it made while neither it nor the camera changes. */
export class FarToNear {
  private made: { of: THREE.BufferGeometry; from: string; geometry: THREE.BufferGeometry } | null = null;

  sorted(of: THREE.BufferGeometry, camera: THREE.PerspectiveCamera): THREE.BufferGeometry {
    const { count } = of.getIndex()!;
    if (count > 3 * MOST_SORTED) return of;
    const names = Object.keys(of.attributes);
    if (this.made?.of !== of || names.some((name) => !this.made!.geometry.hasAttribute(name))) {
      this.dispose();
      const geometry = new THREE.BufferGeometry();
      for (const name of names) geometry.setAttribute(name, of.getAttribute(name));
      geometry.setIndex(new THREE.BufferAttribute(new Uint32Array(count), 1));
      this.made = { of, from: '', geometry };
    }
    const from = camera.position.toArray().join(' ');
    if (this.made.from !== from) {
      const index = this.made.geometry.getIndex()!;
      (index.array as Uint32Array).set(farToNear(of, camera.position));
      index.needsUpdate = true;
      this.made.from = from;
    }
    return this.made.geometry;
  }

  dispose(): void {
    this.made?.geometry.dispose();
    this.made = null;
  }
}

/** Indices by the distance of the triangles' middles, the farthest first. */
function farToNear(of: THREE.BufferGeometry, eye: THREE.Vector3): Uint32Array {
  const [index, at] = [of.getIndex()!.array, of.getAttribute('position')];
  const triangles = Uint32Array.from({ length: index.length / 3 }, (_, t) => t);
  const [middle, corner] = [new THREE.Vector3(), new THREE.Vector3()];
  const distances = Float64Array.from(triangles, (t) => {
    middle.set(0, 0, 0);
    for (let k = 0; k < 3; k++) middle.add(corner.fromBufferAttribute(at, index[3 * t + k]));
    return middle.divideScalar(3).distanceToSquared(eye);
  });
  triangles.sort((a, b) => distances[b] - distances[a]);
  return Uint32Array.from({ length: index.length }, (_, i) => index[3 * triangles[Math.floor(i / 3)] + (i % 3)]);
}
