import type { OpenGround } from './open-ground';

export const shore: OpenGround = { kind: 'open ground', sky: [0x7f97a6, 0xd9d6cb], ground: 0x8d8371, fill: 0.9 };
