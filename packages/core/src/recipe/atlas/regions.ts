import { keptHull, type Corner } from '../../fit/hull.ts';
import { makeMask, type Picture } from '../../raster/raster.ts';
import { PART_THERE } from '../part-of.ts';
import type { PartPicture } from '../grow.ts';
import type { Recipe } from '../recipe.ts';
import { towards } from '../tints.ts';

/** A part of an atlas by name. Places are shares of the texture from its top left corner, as glTF 2.0 has them. */
export interface AtlasRegion {
  name: string;
  /** The upright box around its outline. */
  uv: { left: number; top: number; right: number; bottom: number };
  /** Degrees clockwise from how the part stands by itself. */
  turn: number;
  /** Where its root is, and the way that it grows. */
  root: [u: number, v: number];
  tip: [u: number, v: number];
  /** Convex, around all that is kept, of few corners. */
  outline: [u: number, v: number][];
}

const MOST_CORNERS = 10;

/** Every region, in the order in which they were placed. Parts without a picture, and empty ones, are left out. */
export function atlasRegions(recipe: Recipe, pictureOf: PartPicture): AtlasRegion[] {
  if (recipe.kind !== 'atlas') return [];
  const { parts = [], params, width, height } = recipe;
  const ratio = height / width;
  const outlines = new Map<string, Corner[]>();
  return params.placed.flatMap(({ part: sha256, copy, x, y, turn, tall }) => {
    const part = parts.find((p) => p.sha256 === sha256);
    const picture = pictureOf(sha256);
    if (!part || !picture) return [];
    const corners = outlines.get(sha256) ?? fewerCorners(keptHull(alphaOf(picture), PART_THERE), MOST_CORNERS);
    outlines.set(sha256, corners);
    if (corners.length === 0) return [];
    const [sin, minusCos] = towards(turn);
    const scale = tall / picture.height;
    const at = (column: number, row: number): [number, number] => {
      const [dx, dy] = [(column - picture.width / 2) * scale, (row - picture.height / 2) * scale];
      return [x - dx * minusCos - dy * sin, (y + dx * sin - dy * minusCos) / ratio];
    };
    const outline = corners.map(([column, row]) => at(column, row));
    const [us, vs] = [outline.map(([u]) => u), outline.map(([, v]) => v)];
    const copies = part.copies ?? 1;
    return [
      {
        name: copies > 1 ? `${part.name} ${copy + 1}` : part.name,
        uv: { left: Math.min(...us), top: Math.min(...vs), right: Math.max(...us), bottom: Math.max(...vs) },
        turn,
        root: at(picture.width / 2, picture.height),
        tip: at(picture.width / 2, 0),
        outline,
      },
    ];
  });
}

function alphaOf({ width, height, data }: Picture) {
  const alpha = new Uint8Array(width * height);
  for (let i = 0; i < alpha.length; i++) alpha[i] = data[4 * i + 3];
  return makeMask(width, height, alpha);
}

/** A convex outline with edges taken out, their neighbours drawn on until they meet: always the one that adds least. */
export function fewerCorners(hull: readonly Corner[], most: number): Corner[] {
  const out = [...hull];
  while (out.length > Math.max(3, most)) {
    let best: { i: number; area: number; corner: Corner } | null = null;
    for (let i = 0; i < out.length; i++) {
      const [a, b, c, d] = [0, 1, 2, 3].map((k) => out[(i + k) % out.length]);
      const corner = meeting(a, b, d, c);
      if (!corner) continue;
      const area = Math.abs((c[0] - b[0]) * (corner[1] - b[1]) - (c[1] - b[1]) * (corner[0] - b[0]));
      if (!best || area < best.area) best = { i, area, corner };
    }
    if (!best) return out;
    const from = (best.i + 1) % out.length;
    out[from] = best.corner;
    out.splice((from + 1) % out.length, 1);
  }
  return out;
}

/** Where two lines meet beyond b and beyond d, drawn on from a and from c. */
function meeting(a: Corner, b: Corner, c: Corner, d: Corner): Corner | null {
  const [ux, uy, vx, vy] = [b[0] - a[0], b[1] - a[1], d[0] - c[0], d[1] - c[1]];
  const cross = ux * vy - uy * vx;
  if (Math.abs(cross) < 1e-12) return null;
  const t = ((c[0] - a[0]) * vy - (c[1] - a[1]) * vx) / cross;
  const s = ((c[0] - a[0]) * uy - (c[1] - a[1]) * ux) / cross;
  return t >= 1 && s >= 1 ? [a[0] + t * ux, a[1] + t * uy] : null;
}
