// Draws a picture of each kind of step at work, before and after, for the help pages: docs/help/pictures.
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { STEP_KINDS } from '@lithe-sieve/core';
import { drawStepSample } from '@lithe-sieve/demo';
import sharp from 'sharp';
import { ROOT } from './set-up.mjs';

const FOLDER = join(ROOT, 'docs/help/pictures');
mkdirSync(FOLDER, { recursive: true });
for (const kind of Object.keys(STEP_KINDS)) {
  const { width, height, data } = drawStepSample(kind);
  const picture = sharp(data, { raw: { width, height, channels: 4 } }).removeAlpha();
  await picture.webp({ quality: 82 }).toFile(join(FOLDER, `${kind}.webp`));
}
