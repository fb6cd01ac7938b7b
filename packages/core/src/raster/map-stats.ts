import type { Mask, Raster, Samples } from './raster.ts';

/** How the values of one channel are spread, 0–1. */
export interface ChannelStats {
  /** Shares of the texels, from the darkest bin to the lightest. */
  bins: number[];
  least: number;
  most: number;
  mean: number;
  /** How many values of 65536 occur. */
  distinct: number;
}

export interface MapStats {
  texels: number;
  channels: ChannelStats[];
}

const BINS = 64;

/** Counts the texels of a map that the mask does not wholly drop; the mask has its size. */
export function mapStats({ channels, data }: Raster<Samples>, mask: Mask): MapStats {
  const wide = data instanceof Uint8Array ? 257 : 1;
  const out: ChannelStats[] = [];
  let texels = 0;
  for (let c = 0; c < channels; c++) {
    const counts = new Uint32Array(65536);
    texels = 0;
    for (let i = 0; i < mask.data.length; i++) {
      if (mask.data[i] === 0) continue;
      counts[data[channels * i + c] * wide]++;
      texels++;
    }
    out.push(channelStats(counts, texels));
  }
  return { texels, channels: out };
}

function channelStats(counts: Uint32Array, texels: number): ChannelStats {
  const bins = new Array<number>(BINS).fill(0);
  let [least, most, sum, distinct] = [-1, 0, 0, 0];
  for (let v = 0; v < counts.length; v++) {
    const n = counts[v];
    if (n === 0) continue;
    if (least < 0) least = v;
    most = v;
    distinct++;
    sum += n * v;
    bins[(v * BINS) >> 16] += n / texels;
  }
  return {
    bins,
    least: Math.max(0, least) / 65535,
    most: most / 65535,
    mean: texels > 0 ? sum / texels / 65535 : 0,
    distinct,
  };
}
