import { cubeRoot } from '../math/roots.ts';
import { LAB_FROM_LMS_ROOTS, LMS_FROM_LINEAR_RGB } from './oklab.ts';
import { LINEAR_OF_BYTE } from './srgb.ts';

/** OKLab of bytes by tables, for loops over every texel. */
const ROOT_STEPS = 65536;
export interface OklabTables {
  lms: Int32Array;
  root: Float32Array;
}
let tables: OklabTables | undefined;

/** LMS parts of every byte in 1/65536, and cube roots in the same steps: 0.3 % of a byte at worst near black. */
export function oklabTables(): OklabTables {
  if (tables) return tables;
  const lms = new Int32Array(9 * 256);
  for (let j = 0; j < 9; j++) {
    for (let v = 0; v < 256; v++) {
      lms[j * 256 + v] = Math.floor(LMS_FROM_LINEAR_RGB[j] * LINEAR_OF_BYTE[v] * ROOT_STEPS + 0.5);
    }
  }
  const root = new Float32Array(ROOT_STEPS + 8); // three rounded parts may pass 1 by a step or two
  for (let v = 0; v < root.length; v++) root[v] = cubeRoot(v / ROOT_STEPS);
  tables = { lms, root };
  return tables;
}

/** Lightness 0–1 of a colour 0xbbggrr. */
export function lightnessOf(rgb: number): number {
  const { lms, root } = oklabTables();
  const r = rgb & 255;
  const g = 256 + ((rgb >>> 8) & 255);
  const b = 512 + (rgb >>> 16);
  const [x, y, z] = LAB_FROM_LMS_ROOTS;
  const light =
    x * root[lms[r] + lms[g] + lms[b]] +
    y * root[lms[r + 768] + lms[g + 768] + lms[b + 768]] +
    z * root[lms[r + 1536] + lms[g + 1536] + lms[b + 1536]];
  return light < 0 ? 0 : light > 1 ? 1 : light;
}
