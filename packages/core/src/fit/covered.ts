import type { Mask } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';
import type { Placing } from './placing.ts';

/**
 * Takes from a mask what of its texels lies beyond the picture that it was laid from: alpha is read as if the border went
 * on, and counts by the share of the texel that is on the picture. Edges of the picture are taken as straight over a texel.
 */
export function withoutBeyond(
  mask: Mask,
  p: Placing,
  size: { width: number; height: number },
  env: Pick<Work, 'bands'>,
): void {
  const { width, height, data } = mask;
  // texels before that a step of one texel here goes across each border
  const across = Math.sqrt(p.xx * p.xx + p.xy * p.xy);
  const down = Math.sqrt(p.yx * p.yx + p.yy * p.yy);
  const inside = (at: number, side: number, step: number) => share(at / step) * share((side - at) / step);
  env.bands(height, (y0, y1) => {
    for (let v = y0; v < y1; v++) {
      for (let u = 0, i = v * width; u < width; u++, i++) {
        if (data[i] === 0) continue;
        const x = p.xx * (u + 0.5) + p.xy * (v + 0.5) + p.x0;
        const y = p.yx * (u + 0.5) + p.yy * (v + 0.5) + p.y0;
        const on = inside(x, size.width, across) * inside(y, size.height, down);
        if (on < 1) data[i] = data[i] * on + 0.5;
      }
    }
  });
}

/** Covered share of a texel whose middle lies so many texels within a border. */
function share(within: number): number {
  return within >= 0.5 ? 1 : within <= -0.5 ? 0 : within + 0.5;
}
