import type { Picture } from '../raster/raster.ts';
import { oklabFromBytes, type Oklab } from '../colour/oklab.ts';
import type { Rgb } from '../colour/srgb.ts';

const SAMPLES = 4096;
const ROUNDS = 12;

/**
 * The two colours that a picture is mostly of, the more frequent first: k-means with two middles (S. Lloyd, "Least
 * squares quantization in PCM", 1982) in OKLab over texels from all of it, weighted by alpha; each is the texel's own
 * colour nearest to its middle.
 *
 * @returns null where nothing is there.
 */
export function mainColours({ width, height, data }: Picture): [Rgb, Rgb] | null {
  const step = Math.max(1, Math.floor((width * height) / SAMPLES)) | 1; // odd: not always the same column
  const texels: { rgb: Rgb; lab: Oklab; weight: number }[] = [];
  for (let i = 0; i < width * height; i += step) {
    const [r, g, b, alpha] = data.subarray(4 * i, 4 * i + 4);
    if (alpha > 127) texels.push({ rgb: [r, g, b], lab: oklabFromBytes(r, g, b), weight: alpha });
  }
  if (texels.length === 0) return null;
  const byLight = texels.toSorted((p, q) => p.lab[0] - q.lab[0]);
  const at = (share: number) => byLight[Math.floor(share * (byLight.length - 1))].lab;
  let middles: [Oklab, Oklab] = [at(0.2), at(0.8)];
  const sums = [0, 1].map(() => [0, 0, 0, 0]);
  for (let round = 0; round < ROUNDS; round++) {
    for (const sum of sums) sum.fill(0);
    for (const { lab, weight } of texels) {
      const sum = sums[distance(lab, middles[0]) <= distance(lab, middles[1]) ? 0 : 1];
      for (let c = 0; c < 3; c++) sum[c] += lab[c] * weight;
      sum[3] += weight;
    }
    middles = middles.map((m, k) => (sums[k][3] > 0 ? sums[k].slice(0, 3).map((v) => v / sums[k][3]) : m)) as [Oklab, Oklab]; // prettier-ignore
  }
  const colours = middles.map(
    (m) => texels.reduce((best, t) => (distance(t.lab, m) < distance(best.lab, m) ? t : best)).rgb,
  );
  return (sums[0][3] >= sums[1][3] ? colours : colours.reverse()) as [Rgb, Rgb];
}

function distance(p: Oklab, q: Oklab): number {
  return (p[0] - q[0]) ** 2 + (p[1] - q[1]) ** 2 + (p[2] - q[2]) ** 2;
}
