import { SieveError } from '../../errors.ts';
import { allocateHeap, makeMask, type Allocate, type Mask } from '../../raster/raster.ts';
import type { SurfaceMesh } from '../surface-mesh.ts';
import { placesOf } from '../places.ts';
import { Triples } from './triples.ts';
import { cutTo, type UV } from '../cut-to.ts';
import { copiesReached, type Wraps } from '../wraps.ts';

/**
 * Where the triangles of a mesh lie in its picture, each texel by the share of its square that they cover: what two
 * triangles share is covered once, texels that several triangles cover in part count at most whole.
 *
 * Shares are exact, by the area to the left of each side (R. Levien, "font-rs", 2016).
 *
 * @param wraps - Where UVs lie beyond the picture and it repeats there, they count within it.
 * @param checkpoint - Called every some thousand triangles; gives up by throwing.
 */
export function uvMask(
  { uvs, indices }: Pick<SurfaceMesh, 'uvs' | 'indices'>,
  { width, height }: { width: number; height: number },
  wraps: Wraps,
  { allocate = allocateHeap, checkpoint }: { allocate?: Allocate; checkpoint?: () => void } = {},
): Mask {
  const stride = width + 1;
  const data = allocate(width * height);
  const areas = new Float32Array(stride * Math.min(BAND, height) + 1);
  let further = 0;
  const first = firstOfEach(uvs, indices);
  for (let y0 = 0; y0 < height; y0 += BAND) {
    const rows = Math.min(BAND, height - y0);
    areas.fill(0);
    for (let t = 0; t < indices.length; t += 3) {
      if (t % 12288 === 0) checkpoint?.();
      if (first[t / 3] === 0) continue;
      const corners = [0, 1, 2].map((k): UV => [uvs[2 * indices[t + k]], uvs[2 * indices[t + k] + 1]]);
      const copies = copiesReached(corners, wraps);
      further += copies.length - 1;
      if (further > MOST_COPIES) throw tooOften();
      for (const [across, down] of copies) {
        const copy = corners.map(([u, v]): UV => [across(u) * width, down(v) * height - y0]);
        const ys = copy.map(([, y]) => y);
        if (Math.max(...ys) <= 0 || Math.min(...ys) >= rows) continue;
        const seen = cutTo(copy, 0, 0, width, rows);
        const way = Math.sign(areaOf(seen));
        if (way !== 0) seen.forEach((p, i) => addSide(areas, stride, p, seen[(i + 1) % seen.length], way));
      }
    }
    for (let y = 0, o = y0 * width; y < rows; y++) {
      let covered = 0;
      for (let x = 0; x < width; x++, o++) {
        covered += areas[y * stride + x];
        data[o] = Math.min(255, Math.max(0, 255 * covered + 0.5));
      }
    }
  }
  return makeMask(width, height, data);
}

const tooOften = () =>
  new SieveError(
    'too-large',
    'The picture repeats too often on the mesh for its UVs to be drawn.',
    'Make the picture larger on the mesh, or let its sides clamp.',
  );

/** Further copies of triangles beyond which the picture repeats too often to be drawn: some seconds. */
const MOST_COPIES = 400_000;

/** Triangles that lie on one another in the picture, as both sides of a leaf do, count once: 1 for the first of each. */
function firstOfEach(uvs: Float32Array, indices: SurfaceMesh['indices']): Uint8Array {
  const { of: place } = placesOf(Float32Array.from({ length: (uvs.length / 2) * 3 }, (_, i) => (i % 3 < 2 ? uvs[2 * Math.floor(i / 3) + (i % 3)] : 0))); // prettier-ignore
  const known = new Triples();
  const first = new Uint8Array(indices.length / 3);
  for (let t = 0; t < first.length; t++) {
    const [a, b, c] = [0, 1, 2].map((k) => place[indices[3 * t + k]]).sort((p, q) => p - q);
    if (known.find(a, b, c) >= 0) continue;
    known.add(a, b, c, t);
    first[t] = 1;
  }
  return first;
}

/** Rows at a time: shares take four bytes a texel. */
const BAND = 1024;

function areaOf(polygon: readonly UV[]): number {
  return polygon.reduce((sum, [x, y], i) => {
    const [u, v] = polygon[(i + 1) % polygon.length];
    return sum + x * v - u * y;
  }, 0);
}

/** Adds, row by row, what changes along it at a side: sums from the left are the shares covered. */
function addSide(areas: Float32Array, stride: number, from: UV, to: UV, way: number): void {
  if (from[1] === to[1]) return;
  const isDown = from[1] < to[1];
  const [[x0, y0], [x1, y1]] = isDown ? [from, to] : [to, from];
  const sign = isDown ? -way : way;
  const slope = (x1 - x0) / (y1 - y0);
  let x = x0;
  for (let y = Math.floor(y0); y < y1; y++) {
    const [top, bottom] = [Math.max(y, y0), Math.min(y + 1, y1)];
    const next = x0 + slope * (bottom - y0);
    addInRow(areas, y * stride, Math.min(x, next), Math.max(x, next), sign * (bottom - top));
    x = next;
  }
}

/** A side that goes from `left` to `right` within a row, over so much of its height. */
function addInRow(areas: Float32Array, row: number, left: number, right: number, tall: number): void {
  const first = Math.floor(left);
  const last = Math.ceil(right);
  if (last <= first + 1) {
    const middle = (left + right) / 2 - first;
    areas[row + first] += tall * (1 - middle);
    areas[row + first + 1] += tall * middle;
    return;
  }
  // what lies right of it up to each border between two texels grows by parts of a parabola
  const rightOf = (x: number) => {
    const [a, b] = [Math.min(Math.max(x, left), right) - left, right - left];
    return (a * a) / (2 * b) + Math.max(0, x - right);
  };
  let before = 0;
  let sum = 0;
  for (let x = first; x < last; x++) {
    const covered = rightOf(x + 1) - rightOf(x);
    areas[row + x] += tall * (covered - before);
    sum += covered - before;
    before = covered;
  }
  areas[row + last] += tall * (1 - sum);
}
