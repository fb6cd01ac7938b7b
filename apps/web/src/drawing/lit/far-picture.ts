import { neutralTone, type Vec3 } from '@lithe-sieve/core';
import * as THREE from 'three';
import type { Viewport } from '../poses';
import type { FarPicture } from '../view-painter';
import { seenOf } from './backdrop';
import type { Developed, Exposure } from './exposure';
import { shiftBy } from './pixel-shift';
import { spread } from './samples';

const [LEAST_SAMPLES, MOST_SAMPLES] = [6, 64];
/** Samples of all pixels together: where there are many, each needs few. */
const ENOUGH = 400_000;

/** @returns null where the device reads no light back. */
export function farPicture(
  renderer: THREE.WebGLRenderer,
  exposure: Exposure,
  scene: THREE.Scene,
  card: THREE.Mesh,
  camera: THREE.PerspectiveCamera,
  { samples, see, ...how }: Developed & { samples: number; see: () => void },
  side: number,
): FarPicture | null {
  const box = aroundCard(renderer, card, camera);
  const render = () => renderer.render(scene, camera);
  const picture = exposure.read(renderer, box, render, how.backdrop ? 0 : 1);
  if (!picture) return null;
  const hidden = scene.children.flatMap((child) => meshesBeside(child, card));
  for (const mesh of hidden) mesh.visible = false;
  try {
    const covered = () => sumOfAlpha(exposure.read(renderer, box, render, 0)!);
    const drawn = covered();
    const count = Math.ceil(
      Math.min(MOST_SAMPLES, samples / 4, Math.max(LEAST_SAMPLES, ENOUGH / (box.width * box.height))),
    );
    let seen = 0;
    see();
    for (let i = 0; i < count; i++) {
      shiftBy(camera, renderer, spread(i, 0.5));
      seen += covered() / count;
    }
    camera.clearViewOffset();
    return {
      side,
      data: shownAt(side, picture, box, renderer.getCurrentViewport(new THREE.Vector4()), how),
      drawn,
      seen,
    };
  } finally {
    for (const mesh of hidden) mesh.visible = true;
  }
}

/** Those that are shown, but for the card. */
function meshesBeside(root: THREE.Object3D, card: THREE.Mesh): THREE.Object3D[] {
  const found: THREE.Object3D[] = [];
  root.traverseVisible((one) => {
    if (one instanceof THREE.Mesh && one !== card) found.push(one);
  });
  return found;
}

function sumOfAlpha(pixels: Float32Array): number {
  let sum = 0;
  for (let i = 3; i < pixels.length; i += 4) sum += pixels[i];
  return sum;
}

/** The square of pixels around the card, from the bottom left, as far as they are within the view. */
function aroundCard(renderer: THREE.WebGLRenderer, card: THREE.Mesh, camera: THREE.PerspectiveCamera): Viewport {
  const { z: width, w: height } = renderer.getCurrentViewport(new THREE.Vector4());
  card.geometry.computeBoundingBox();
  const { min, max } = card.geometry.boundingBox!;
  const corners = [min.x, max.x].flatMap((x) => [min.y, max.y].flatMap((y) => [min.z, max.z].map((z) => new THREE.Vector3(x, y, z).project(camera)))); // prettier-ignore
  const [xs, ys] = [corners.map(({ x }) => ((x + 1) / 2) * width), corners.map(({ y }) => ((y + 1) / 2) * height)];
  const [left, right, bottom, top] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const half = Math.max(LEAST_HALF, Math.ceil(Math.max(right - left, top - bottom) / 2) + 1);
  const [x, y] = [Math.round((left + right) / 2) - half, Math.round((bottom + top) / 2) - half];
  const [x0, y0] = [Math.max(0, x), Math.max(0, y)];
  return { x: x0, y: y0, width: Math.max(1, Math.min(width, x + 2 * half) - x0), height: Math.max(1, Math.min(height, y + 2 * half) - y0) }; // prettier-ignore
}

/** Some ground is seen around the smallest card. */
const LEAST_HALF = 6;

/** Brought to the screen, at another size: means of whole pixels, or each as a square. */
function shownAt(
  side: number,
  pixels: Float32Array,
  { x: left, y: bottom, width, height }: Viewport,
  { z: across, w: up }: THREE.Vector4,
  { light: { exposure, tone }, backdrop }: Developed,
) {
  const out = new Uint8ClampedArray(4 * side * side);
  const longer = Math.max(width, height);
  const span = (k: number, from: number, count: number) => {
    const a = Math.min(count - 1, Math.max(0, Math.floor((k * longer) / side - (longer - count) / 2)));
    const b = Math.min(count, Math.max(a + 1, Math.floor(((k + 1) * longer) / side - (longer - count) / 2)));
    return [a + from, b + from];
  };
  for (let y = 0; y < side; y++) {
    const [y0, y1] = span(side - 1 - y, 0, height);
    for (let x = 0; x < side; x++) {
      const [x0, x1] = span(x, 0, width);
      const sum = [0, 0, 0, 0];
      for (let j = y0; j < y1; j++)
        for (let i = x0; i < x1; i++) for (let c = 0; c < 4; c++) sum[c] += pixels[4 * (j * width + i) + c];
      const covered = backdrop ? sum[3] / ((x1 - x0) * (y1 - y0)) : 1;
      const scale = 2 ** exposure / Math.max(1e-6, backdrop ? sum[3] : (x1 - x0) * (y1 - y0));
      const lit = sum.slice(0, 3).map((v) => v * scale) as unknown as Vec3;
      const behind = backdrop && seenOf(backdrop, (left + (x0 + x1) / 2) / across, 1 - (bottom + (y0 + y1) / 2) / up);
      const toned = tone === 'neutral' ? neutralTone(lit) : lit;
      for (let c = 0; c < 3; c++) {
        const seen = behind ? toned[c] * covered + behind[c] * (1 - covered) : toned[c];
        out[4 * (y * side + x) + c] = 255 * encoded(seen);
      }
      out[4 * (y * side + x) + 3] = 255;
    }
  }
  return out;
}

const encoded = (v: number) => (v <= 0.0031308 ? 12.92 * Math.max(0, v) : 1.055 * Math.min(1, v) ** (1 / 2.4) - 0.055);
