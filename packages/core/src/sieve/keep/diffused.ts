import { makeMask, type Mask } from '../../raster/raster.ts';

/**
 * Keep coverage by error diffusion (C. Yuksel, "Alpha Distribution for Alpha Testing", 2018): each alpha of a level becomes
 * all or nothing, and what that adds or takes goes to the texels not yet visited (weights of Floyd and Steinberg, 1976,
 * rows in turn from left and right). The share kept is the mean alpha.
 */
export function diffusedAlpha({ width, height, data }: Mask): Mask {
  const out = new Uint8Array(data.length);
  let now = new Float64Array(width + 2);
  let next = new Float64Array(width + 2);
  for (let y = 0; y < height; y++) {
    const way = y % 2 ? -1 : 1;
    for (let n = 0; n < width; n++) {
      const x = way > 0 ? n : width - 1 - n;
      const value = data[y * width + x] + now[x + 1];
      const kept = value >= 127.5;
      if (kept) out[y * width + x] = 255;
      const rest = value - (kept ? 255 : 0);
      now[x + 1 + way] += (rest * 7) / 16;
      next[x + 1 - way] += (rest * 3) / 16;
      next[x + 1] += (rest * 5) / 16;
      next[x + 1 + way] += rest / 16;
    }
    [now, next] = [next, now];
    next.fill(0);
  }
  return makeMask(width, height, out);
}
