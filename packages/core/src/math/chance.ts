import { mix32 } from './mix.ts';

/** Chance that every host shares: a number in [0, 1) of a seed and a place in its sequence (mixing of MurmurHash3). */
export function chance(seed: number, index: number): number {
  return mix32(Math.imul(seed ^ 0x9e3779b9, 0x85ebca6b) ^ Math.imul(index + 1, 0xc2b2ae35)) / 4294967296;
}
