import {
  halvePicture,
  thresholdByte,
  withMaskAsAlpha,
  type Material,
  type Picture,
  type RunState,
} from '@lithe-sieve/core';

/** Pictures of the Stock are as small as this on their longer side, unless they are smaller anyway. */
const STOCK_SIDE = 256;

/** What the Stock shows: clipped as the material has it. */
export function asShown(material: Material, { colour, mask }: Pick<RunState, 'colour' | 'mask'>): Picture {
  const threshold = thresholdByte(material.cutoff, material.opacity);
  const clipped = mask.data.map((alpha) => {
    if (material.mode === 'blend') return alpha * material.opacity;
    return material.mode === 'opaque' || alpha >= threshold ? 255 : 0;
  });
  const picture = withMaskAsAlpha({ colour, mask: { ...mask, data: clipped } });
  return Math.max(picture.width, picture.height) > STOCK_SIDE ? halvePicture(picture) : picture;
}
