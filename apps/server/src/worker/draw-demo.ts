import { writePng } from '@lithe-sieve/core';
import { DEMO_PIECES } from '@lithe-sieve/demo';
import { deflateInStrips } from './node-platform.ts';
import type { DrawDemoTask, DrawnDemo } from './tasks.ts';

export async function drawDemo({ index }: DrawDemoTask): Promise<DrawnDemo> {
  const { name, cardWidth, files, more } = DEMO_PIECES[index]();
  let steps = 0;
  const written: DrawnDemo['files'] = [];
  for (const { fileName, raster } of files) written.push({ fileName, bytes: await writePng(raster, deflateInStrips) });
  return { name, cardWidth, files: written, more: more?.(() => `demo-step-${steps++}`) ?? [] };
}
