import type { OpenGround } from './open-ground';

export const dark: OpenGround = { kind: 'open ground', sky: [0x17191b, 0x2e3133], ground: 0x2b2a28, fill: 0.55 };
