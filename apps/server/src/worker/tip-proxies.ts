import { makePicture, type Picture, type Raster } from '@lithe-sieve/core';
import type { TipPictures } from '@lithe-sieve/host';
import type { TipProxy } from './tasks.ts';

/** Tips and parts as a summary reads them: from the small copies that the studio keeps of their files, decoded once. */
export function tipsFromProxies(tips: readonly TipProxy[]): TipPictures {
  const of = new Map(
    tips.map(({ sha256, proxy: { width, height, rgba } }) => [sha256, makePicture(width, height, rgba)]),
  );
  const values = new Map<string, Raster<Uint16Array>>();
  return {
    pictureOf: (sha256: string): Picture | undefined => of.get(sha256),
    reliefOf(sha256: string) {
      const proxy = tips.find((t) => t.sha256 === sha256)?.proxy;
      if (!proxy) return undefined;
      const known = values.get(sha256);
      if (known) return known;
      const data = Uint16Array.from(proxy.values, (v) => 257 * v);
      const made = { width: proxy.width, height: proxy.height, channels: 4 as const, data };
      values.set(sha256, made);
      return made;
    },
  };
}
