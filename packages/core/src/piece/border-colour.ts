import { oklabDistance, oklabFromBytes, type Oklab } from '../colour/oklab.ts';
import type { SourceFacts } from './source-facts.ts';

const PLAIN_BORDER_DISTANCE = 0.14; // OKLab; an unevenly lit scan swings by about 0.1
const STOPS = 96;

/** Places in the outermost 1 % of a picture, as indices of texels: top, bottom, left and right in turn. */
export function borderPlaces(width: number, height: number): number[] {
  const inset = Math.floor(Math.min(width, height) / 200);
  const out: number[] = [];
  for (let k = 0; k < STOPS; k++) {
    const x = Math.floor(((k + 0.5) / STOPS) * width);
    const y = Math.floor(((k + 0.5) / STOPS) * height);
    out.push(inset * width + x, (height - 1 - inset) * width + x, y * width + inset, y * width + width - 1 - inset);
  }
  return out;
}

/** The middle colour of a border is the one with the least summed distance to the others. */
export function borderColour(texels: readonly number[]): SourceFacts['border'] {
  const rgbs = texels.map((w): [number, number, number] => [w & 255, (w >>> 8) & 255, (w >>> 16) & 255]);
  const labs: Oklab[] = rgbs.map(([r, g, b]) => oklabFromBytes(r, g, b));
  let best = 0;
  let least = Infinity;
  labs.forEach((lab, i) => {
    const sum = labs.reduce((total, other) => total + Math.min(0.3, oklabDistance(lab, other)), 0);
    if (sum < least) {
      least = sum;
      best = i;
    }
  });
  const near = labs.map((lab) => oklabDistance(lab, labs[best])).filter((d) => d <= PLAIN_BORDER_DISTANCE);
  near.sort((a, b) => a - b);
  return { colour: rgbs[best], share: near.length / labs.length, spread: near[Math.floor(0.98 * (near.length - 1))] };
}
