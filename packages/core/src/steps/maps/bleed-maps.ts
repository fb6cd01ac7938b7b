import { findNearest } from '../../mask/nearest.ts';
import { allocate16, type Raster, type Samples } from '../../raster/raster.ts';
import type { MapName } from '../../raster/maps.ts';
import { thresholdByte } from '../../math/threshold.ts';
import type { StepKind } from '../step.ts';

export interface BleedMapsParams {
  /** Alpha, 0–1, from which a texel's own values are trusted. */
  trust: number;
}

export const bleedMaps: StepKind<BleedMapsParams> = {
  stretch: 'maps',
  purpose: 'values',
  label: 'Bleed maps',
  hint: 'Gives dropped texels of every map the values of the nearest kept one, as bleed does for the colour.',
  defaults: { trust: 0.5 },
  ranges: { trust: { min: 0.01, max: 1 } },
  pullsMask: false,
  apply({ mask, maps }, { trust }, env) {
    const out = new Map<MapName, Raster<Samples>>();
    for (const [name, raster] of maps) {
      const data =
        raster.data instanceof Uint8Array
          ? env.allocate(raster.data.length)
          : allocate16(raster.data.length, env.allocate);
      data.set(raster.data);
      out.set(name, { ...raster, data });
    }
    const all = [...out.values()];
    findNearest(mask, { threshold: thresholdByte(trust) }, env, {
      own: () => undefined,
      none: () => undefined,
      found(from, to, found) {
        for (const { channels, data } of all) {
          for (let c = 0; c < channels; c++) {
            const value = data[channels * found + c];
            for (let i = from; i < to; i++) data[channels * i + c] = value;
          }
        }
      },
    });
    return { maps: out };
  },
};
