import type { Mask } from '../raster/raster.ts';
import type { SurfaceMesh } from './surface-mesh.ts';

/** A card before a camera. */
export interface ShadedScene {
  mesh: SurfaceMesh;
  /** Its mask, level 0 first. */
  levels: readonly Mask[];
  /** The least byte of alpha that is kept. */
  threshold: number;
  /** From space to clip space, column by column. */
  camera: ArrayLike<number>;
  width: number;
  height: number;
  doubleSided: boolean;
}

export interface ShadedPixels {
  /** How often each pixel is shaded, row by row from the top. */
  counts: Uint16Array;
  /** All of it, and the pixels that show something of the card in the end. */
  shaded: number;
  shown: number;
}

interface Corner {
  x: number;
  y: number;
  z: number;
  /** 1 / w, and the place in the picture times that. */
  w: number;
  u: number;
  v: number;
}

/**
 * How often a renderer shades each pixel, triangles in their order, as the depth buffer lets it: opaque, what is nearer than
 * all before; mask, the same, but what the cutoff drops hides nothing; blend, all of it, since it hides nothing. A triangle
 * that is partly behind the camera is left out.
 */
export function shadedPixels(scene: ShadedScene, mode: 'opaque' | 'mask' | 'blend'): ShadedPixels {
  const { mesh, width, height, doubleSided } = scene;
  const counts = new Uint16Array(width * height);
  const depth = new Float32Array(width * height).fill(Infinity);
  const seen = new Uint8Array(width * height);
  let shaded = 0;
  for (let t = 0; t + 2 < mesh.indices.length; t += 3) {
    const corners = [0, 1, 2].map((k) => cornerOf(scene, mesh.indices[t + k]));
    if (corners.some((c) => c === null)) continue;
    const [a, b, c] = corners as Corner[];
    // rows run down: counter-clockwise in space is clockwise here
    const area = (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);
    if (area === 0 || (area > 0 && !doubleSided)) continue;
    const alphaAt = alphaOf(scene, a, b, c, Math.abs(area));
    forEachPixel(area < 0 ? [a, b, c] : [a, c, b], width, height, (i, [p, q, r], [wa, wb, wc]) => {
      const z = wa * p.z + wb * q.z + wc * r.z;
      if (mode !== 'blend' && z >= depth[i]) return;
      shaded++;
      if (counts[i] < 65535) counts[i]++;
      if (mode !== 'opaque') {
        const w = wa * p.w + wb * q.w + wc * r.w;
        const alpha = alphaAt((wa * p.u + wb * q.u + wc * r.u) / w, (wa * p.v + wb * q.v + wc * r.v) / w);
        if (mode === 'mask' ? alpha < scene.threshold : alpha === 0) return;
      }
      seen[i] = 1;
      if (mode !== 'blend') depth[i] = z;
    });
  }
  return { counts, shaded, shown: seen.reduce((sum, v) => sum + v, 0) };
}

/** null: behind the camera. */
function cornerOf({ mesh, camera: m, width, height }: ShadedScene, i: number): Corner | null {
  const [x, y, z] = [mesh.positions[3 * i], mesh.positions[3 * i + 1], mesh.positions[3 * i + 2]];
  const row = (k: number) => m[k] * x + m[4 + k] * y + m[8 + k] * z + m[12 + k];
  const w = row(3);
  if (w <= 1e-6) return null;
  const at = { x: ((row(0) / w + 1) / 2) * width, y: ((1 - row(1) / w) / 2) * height, z: row(2) / w };
  return { ...at, w: 1 / w, u: mesh.uvs[2 * i] / w, v: mesh.uvs[2 * i + 1] / w };
}

/** The nearest texel of the mip level that the triangle is read from in the mean; beyond the picture it is clamped. */
function alphaOf({ levels }: ShadedScene, a: Corner, b: Corner, c: Corner, area: number) {
  const [first] = levels;
  const uv = ({ u, v, w }: Corner) => [(u / w) * first.width, (v / w) * first.height];
  const [[ax, ay], [bx, by], [cx, cy]] = [uv(a), uv(b), uv(c)];
  const texels = Math.abs((bx - ax) * (cy - ay) - (by - ay) * (cx - ax));
  const level = Math.round(Math.max(0, 0.5 * Math.log2(Math.max(1e-9, texels / area))));
  const { width, height, data } = levels[Math.min(levels.length - 1, level)];
  const clamped = (share: number, side: number) => Math.min(side - 1, Math.max(0, Math.floor(share * side)));
  return (u: number, v: number): number => data[clamped(v, height) * width + clamped(u, width)];
}

/** Pixels whose middle is within, one on a side that two triangles share in one of them: the top-left rule. Weights sum to 1. */
function forEachPixel(
  corners: readonly [Corner, Corner, Corner],
  width: number,
  height: number,
  visit: (i: number, of: readonly [Corner, Corner, Corner], weights: readonly [number, number, number]) => void,
): void {
  const [a, b, c] = corners;
  const edge = (p: Corner, q: Corner, x: number, y: number) => (q.y - p.y) * (x - p.x) - (q.x - p.x) * (y - p.y);
  const whole = edge(a, b, c.x, c.y);
  const takes = (p: Corner, q: Corner, e: number) => e > 0 || (e === 0 && (q.y < p.y || (q.y === p.y && q.x < p.x)));
  const [x0, x1] = spanOf([a.x, b.x, c.x], width);
  const [y0, y1] = spanOf([a.y, b.y, c.y], height);
  for (let y = y0; y < y1; y++)
    for (let x = x0; x < x1; x++) {
      const [px, py] = [x + 0.5, y + 0.5];
      const [ea, eb, ec] = [edge(b, c, px, py), edge(c, a, px, py), edge(a, b, px, py)];
      if (takes(b, c, ea) && takes(c, a, eb) && takes(a, b, ec))
        visit(y * width + x, corners, [ea / whole, eb / whole, ec / whole]);
    }
}

function spanOf(values: readonly number[], side: number): [number, number] {
  return [Math.max(0, Math.floor(Math.min(...values))), Math.min(side, Math.ceil(Math.max(...values)))];
}
