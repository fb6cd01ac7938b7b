import * as THREE from 'three';

/** Moves what the camera sees by a part of a pixel. @returns by how much the other way, in units of the clip space. */
export function shiftBy(
  camera: THREE.PerspectiveCamera,
  renderer: THREE.WebGLRenderer,
  pixel: readonly [number, number],
) {
  const { z: width, w: height } = renderer.getCurrentViewport(new THREE.Vector4());
  const [dx, dy] = pixel.map((v) => v - 0.5);
  camera.setViewOffset(width, height, dx, dy, width, height);
  return { x: (2 * dx) / width, y: (-2 * dy) / height };
}
