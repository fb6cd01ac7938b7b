import type { Backdrop } from './messages';

/** Sky from its top to the horizon, ground, and how much light comes from around. */
export const BACKDROPS: Record<Backdrop, { sky: [number, number]; ground: number; fill: number }> = {
  shore: { sky: [0x7f97a6, 0xd9d6cb], ground: 0x8d8371, fill: 0.9 },
  pale: { sky: [0xcfcdc8, 0xe9e7e2], ground: 0xc9c6bf, fill: 1.15 },
  dark: { sky: [0x17191b, 0x2e3133], ground: 0x2b2a28, fill: 0.55 },
};
