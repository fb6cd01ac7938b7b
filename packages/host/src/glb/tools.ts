import { validateBytes } from 'gltf-validator';
import type { GlbTools } from '@lithe-sieve/core';
import { readCardApart, readCardGlb } from './read.ts';
import { writeCardApart, writeCardGlb } from './write.ts';

const WARNING = 1; // the validator's severities: 0 error, 1 warning, 2 information, 3 hint

export const glbTools: GlbTools = {
  write: writeCardGlb,
  writeApart: writeCardApart,
  read: readCardGlb,
  readApart: readCardApart,
  async validate(bytes, beside) {
    const externalResourceFunction = (uri: string) => {
      const found = beside?.(uri);
      return found ? Promise.resolve(found) : Promise.reject(new Error(`${uri} is not beside it`));
    };
    const { issues } = await validateBytes(bytes, beside && { externalResourceFunction });
    return issues.messages.filter((m) => m.severity <= WARNING).map((m) => `${m.code}: ${m.message}`);
  },
};
export { looksLikeGlb, readUserGlb } from './user-mesh.ts';
