import { alphaFromColours, threeWays } from '../matte/alpha-from-colours.ts';
import { backdropRow, fitBackdrop, type Backdrop } from '../matte/backdrop.ts';
import type { MixedIn } from '../matte/mixing.ts';
import { makeMask, type Mask, type Picture } from '../raster/raster.ts';
import type { StepEnv, StepKind } from './step.ts';

export interface FromBackdropParams {
  /** Distance from the backdrop, in encoded RGB 0–1, from which a texel counts as subject. */
  tolerance: number;
  softness: number;
  /** How much darker than the backdrop, as a share of its light, a shadow may be and still be dropped. */
  shadow: number;
  /** Texels to each side of the edge whose alpha is recomputed from the colours around. */
  edge: number;
  /** In which values subject and backdrop mix at the edge. */
  mixed: MixedIn;
}

/**
 * A plain but unevenly lit backdrop, found from the border and modelled as a smooth surface. A texel's distance from it
 * is what is left after its shadow: along the backdrop's own colour towards black, darkening counts only beyond the
 * depth that a shadow may have.
 */
export const fromBackdrop: StepKind<FromBackdropParams> = {
  stretch: 'mask',
  purpose: 'pull',
  label: 'From backdrop',
  hint: 'Finds the plain backdrop of a scan from its border, however unevenly lit, and drops it with its shadows.',
  defaults: { tolerance: 0.1, softness: 0.08, shadow: 0.3, edge: 2, mixed: 'found' },
  ranges: {
    tolerance: { min: 0.01, max: 0.6, step: 0.005, digits: 3 },
    softness: { min: 0, max: 0.5, step: 0.005, digits: 3 },
    shadow: { min: 0, max: 0.9 },
    edge: { min: 0, max: 8, step: 0.5, digits: 1, unit: 'texels' },
  },
  pullsMask: true,
  apply({ colour }, params, env) {
    const rough = backdropMask(colour, params, env);
    const edge = params.edge * env.scale;
    if (edge < 0.75) return { mask: rough };
    const { mask, found } = alphaFromColours(colour, rough, threeWays(rough, edge, env), params.mixed, env);
    return { mask, ...(found && { notice: found.notice }) };
  },
};

/** The mask by distance from the backdrop alone. */
export function backdropMask(
  colour: Picture,
  params: Omit<FromBackdropParams, 'edge' | 'mixed'>,
  env: Pick<StepEnv, 'allocate' | 'bands'>,
): Mask {
  const { width, height } = colour;
  const backdrop = fitBackdrop(colour);
  const out = env.allocate(width * height);
  env.bands(height, (y0, y1) => measure(colour, backdrop, params, out, y0, y1));
  return makeMask(width, height, out);
}

function measure(
  { width, data }: Picture,
  backdrop: Backdrop,
  { tolerance, softness, shadow }: Omit<FromBackdropParams, 'edge' | 'mixed'>,
  out: Uint8Array,
  y0: number,
  y1: number,
): void {
  const row = new Float64Array(12);
  const gain = 255 / Math.max(softness, 1e-6);
  const darkest = 1 - shadow;
  for (let y = y0; y < y1; y++) {
    backdropRow(backdrop, y, row);
    for (let x = 0, i = y * width; x < width; x++, i++) {
      const u = (2 * (x + 0.5)) / width - 1;
      const r = row[0] + u * (row[1] + u * (row[2] + u * row[3]));
      const g = row[4] + u * (row[5] + u * (row[6] + u * row[7]));
      const b = row[8] + u * (row[9] + u * (row[10] + u * row[11]));
      const cr = data[4 * i] / 255;
      const cg = data[4 * i + 1] / 255;
      const cb = data[4 * i + 2] / 255;
      const light = r * r + g * g + b * b;
      const along = light > 1e-6 ? (cr * r + cg * g + cb * b) / light : 1;
      const k = along > 1 ? 1 : along < darkest ? darkest : along;
      const dr = cr - k * r;
      const dg = cg - k * g;
      const db = cb - k * b;
      const v = (128 + (Math.sqrt(dr * dr + dg * dg + db * db) - tolerance) * gain) | 0;
      out[i] = v < 0 ? 0 : v > 255 ? 255 : v;
    }
  }
}
