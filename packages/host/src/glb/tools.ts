import { validateBytes } from 'gltf-validator';
import type { GlbTools } from '@lithe-sieve/core';
import { readCardGlb } from './read.ts';
import { writeCardGlb } from './write.ts';

const WARNING = 1; // the validator's severities: 0 error, 1 warning, 2 information, 3 hint

export const glbTools: GlbTools = {
  write: writeCardGlb,
  read: readCardGlb,
  async validate(bytes) {
    const { issues } = await validateBytes(bytes);
    return issues.messages.filter((m) => m.severity <= WARNING).map((m) => `${m.code}: ${m.message}`);
  },
};
export { looksLikeGlb, readUserGlb } from './user-mesh.ts';
