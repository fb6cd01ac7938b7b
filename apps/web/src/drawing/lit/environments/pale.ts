import type { OpenGround } from './open-ground';

export const pale: OpenGround = { kind: 'open ground', sky: [0xcfcdc8, 0xe9e7e2], ground: 0xc9c6bf, fill: 1.15 };
