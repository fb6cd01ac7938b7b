import { chance } from '../math/chance.ts';

export const STREWN = { most: 5000 } as const;

/** Copies of a card on the ground, the first of them where the card is. */
export interface Strewn {
  /** x and z of each, in sides of the card. */
  places: Float32Array;
  /** Turn about the vertical, radians; size, times the card's; brightness, times the card's. */
  turns: Float32Array;
  sizes: Float32Array;
  tints: Float32Array;
}

/** How far copies stand from each other, sides of a card. */
const APART = 0.55;
/** The angle of a sunflower: H. Vogel, "A better way to construct the sunflower head", 1979. */
const GOLDEN = Math.PI * (3 - Math.sqrt(5));

/**
 * Copies strewn behind the card and beside it, as dense everywhere, however many they are.
 *
 * @param count - 1 to 5,000.
 * @param seed - The same, the same copies.
 */
export function strewn(count: number, seed: number): Strewn {
  let drawn = 0;
  const next = () => chance(seed, drawn++);
  const [places, turns, sizes, tints] = [2, 1, 1, 1].map((n) => new Float32Array(n * count));
  const radius = APART * Math.sqrt(count);
  sizes[0] = tints[0] = 1;
  for (let i = 1; i < count; i++) {
    const from = APART * Math.sqrt(i) + 0.4 * APART * (next() - 0.5);
    const angle = i * GOLDEN + (0.4 * APART * (next() - 0.5)) / from;
    places[2 * i] = from * Math.cos(angle);
    places[2 * i + 1] = from * Math.sin(angle) - radius - APART;
    turns[i] = 2 * Math.PI * next();
    sizes[i] = 0.7 + 0.6 * next();
    tints[i] = 0.75 + 0.4 * next();
  }
  return { places, turns, sizes, tints };
}
