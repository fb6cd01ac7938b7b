import { nearestTexels } from '../mask/nearest.ts';
import { makeMask, type Mask } from '../raster/raster.ts';
import { resize } from '../raster/resize.ts';

/** By how much a distance field is smaller than its mask, each side. */
export const FIELD_DIVISORS = [2, 4, 8] as const;
export type FieldDivisor = (typeof FIELD_DIVISORS)[number];

/** Distance from the outline at which alpha is 0 or 1, in texels of the field: bilinear filtering looks at one and a half. */
const SPREAD = 2;

/**
 * Alpha as a signed distance from the outline, to be stored small, magnified by bilinear filtering and clipped at 0.5:
 * C. Green, "Improved Alpha-Tested Magnification for Vector Textures and Special Effects", SIGGRAPH 2007. Distances are
 * to the nearest texel on the other side (exact Euclidean), less half a texel.
 *
 * @param threshold - Byte at which the mask is clipped.
 * @returns 0 far outside to 255 far inside, of the size divided, rounded up.
 */
export function distanceField(mask: Mask, threshold: number, divisor: FieldDivisor): Mask {
  const [width, height] = [Math.ceil(mask.width / divisor), Math.ceil(mask.height / divisor)];
  const reach = SPREAD * divisor;
  const distance = signedDistance(mask, threshold, reach + 1);
  const out = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    const v = ((y + 0.5) * mask.height) / height - 0.5;
    for (let x = 0; x < width; x++) {
      const d = between(distance, mask.width, mask.height, ((x + 0.5) * mask.width) / width - 0.5, v);
      out[y * width + x] = Math.max(0, Math.min(255, Math.floor((0.5 - d / (2 * reach)) * 255 + 0.5)));
    }
  }
  return makeMask(width, height, out);
}

/** Positive outside; where nothing is near, beyond what is looked for. */
function signedDistance({ width, height, data }: Mask, threshold: number, reach: number): Float32Array {
  const mask = makeMask(
    width,
    height,
    data.map((v) => (v >= threshold ? 255 : 0)),
  );
  const env = { bands: (rows: number, work: (from: number, to: number) => void) => work(0, rows) };
  const kept = nearestTexels(mask, { threshold: 128, reach }, env);
  const dropped = nearestTexels(mask, { threshold: 128, below: true, reach }, env);
  const out = new Float32Array(data.length);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const inside = kept[i] === i;
      const at = inside ? dropped[i] : kept[i];
      const [dx, dy] = [x - (at % width), y - Math.floor(at / width)];
      const far = at < 0 ? reach : Math.sqrt(dx * dx + dy * dy) - 0.5;
      out[i] = inside ? -far : far;
    }
  }
  return out;
}

function between(values: Float32Array, width: number, height: number, x: number, y: number): number {
  const [x0, y0] = [Math.max(0, Math.floor(x)), Math.max(0, Math.floor(y))];
  const [x1, y1] = [Math.min(width - 1, x0 + 1), Math.min(height - 1, y0 + 1)];
  const [u, v] = [Math.max(0, x - x0), Math.max(0, y - y0)];
  const top = values[y0 * width + x0] * (1 - u) + values[y0 * width + x1] * u;
  const bottom = values[y1 * width + x0] * (1 - u) + values[y1 * width + x1] * u;
  return top * (1 - v) + bottom * v;
}

/** Where a distance field is clipped: half way. */
export const FIELD_THRESHOLD = 128;

/** Shares of all texels: what is kept, what a field shows of it, and what changes sides. */
export interface FieldLoss {
  kept: number;
  shown: number;
  wrong: number;
}

/** What becomes of a clip as distances of a smaller size, magnified again. @param threshold - As for {@link distanceField}. */
export function fieldLoss(mask: Mask, threshold: number, divisor: FieldDivisor): FieldLoss {
  const { width, height, data } = mask;
  const read = magnified(distanceField(mask, threshold, divisor), width, height).data;
  let [kept, shown, wrong] = [0, 0, 0];
  for (let i = 0; i < data.length; i++) {
    const [is, has] = [data[i] >= threshold, read[i] >= FIELD_THRESHOLD];
    kept += Number(is);
    shown += Number(has);
    wrong += Number(is !== has);
  }
  return { kept: kept / data.length, shown: shown / data.length, wrong: wrong / data.length };
}

/** A small alpha as bilinear filtering shows it at another size. */
export function magnified(alpha: Mask, width: number, height: number): Mask {
  return alpha.width === width && alpha.height === height ? alpha : resize(alpha, width, height);
}
