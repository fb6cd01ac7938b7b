// Core kernels at 4096², each beside another library in the same run: medians of interleaved rounds, and their ratio.
import { execFileSync } from 'node:child_process';
import { inflateSync } from 'node:zlib';
import sharp from 'sharp';
import { bleedColour, colourMips, histogram, maskMips, readPng, STEP_KINDS, writePng } from '@lithe-sieve/core/testing';
import { deflateInStrips } from '@lithe-sieve/host';
import { SIDE } from './big-scan.ts';
import { bytes, env, mask, picture, raw, start } from './full-size.ts';
import { runRaces, timed, type Race } from './race.ts';

const rawMask = { raw: { width: SIDE, height: SIDE, channels: 1 as const } };
const inflate = (parts: Uint8Array[]) => Promise.resolve(new Uint8Array(inflateSync(Buffer.concat(parts))));
sharp.concurrency(1);

const RACES: Race[] = [
  {
    name: 'levels',
    ours: () =>
      STEP_KINDS.levels.apply(start, { ...STEP_KINDS.levels.defaults, black: 0.2, white: 0.8, gamma: 1.3 }, env),
    other: 'sharp linear',
    theirs: () => sharp(mask.data, rawMask).linear(1.66, -85).raw().toBuffer(),
  },
  {
    name: 'from colour, one swatch',
    ours: () =>
      STEP_KINDS['from-colour'].apply(
        start,
        { ...STEP_KINDS['from-colour'].defaults, drop: [[216, 211, 201]], tolerance: 0.13 },
        env,
      ),
    other: 'sharp to Lab only',
    theirs: () => sharp(picture.data, raw).removeAlpha().toColourspace('lab').raw().toBuffer(),
  },
  {
    name: 'histogram',
    ours: () => histogram(mask),
    other: 'sharp stats',
    theirs: () => sharp(mask.data, rawMask).stats(),
  },
  {
    name: 'mask mips, all levels',
    ours: () => maskMips(mask),
    other: 'sharp one halving',
    theirs: () =>
      sharp(mask.data, rawMask)
        .resize(SIDE / 2, SIDE / 2, { kernel: 'linear' })
        .raw()
        .toBuffer(),
  },
  {
    name: 'colour mips, all levels, linear light',
    ours: () => colourMips(picture),
    other: 'sharp one halving',
    theirs: () =>
      sharp(picture.data, raw)
        .resize(SIDE / 2, SIDE / 2, { kernel: 'linear' })
        .raw()
        .toBuffer(),
  },
  {
    name: 'PNG decode RGBA',
    ours: () => readPng(bytes, { inflate }),
    other: 'sharp',
    theirs: () => sharp(bytes).raw().toBuffer(),
  },
  {
    name: 'PNG encode RGBA',
    ours: () => writePng(picture, deflateInStrips),
    other: 'sharp level 6',
    theirs: () => sharp(picture.data, raw).png({ compressionLevel: 6 }).toBuffer(),
  },
  { name: 'bleed, exact nearest', ours: () => bleedColour(picture, mask, 128, env), other: 'scipy exact (below)' },
];

console.log(`${SIDE}², one thread of ours; medians of 5 in ms\n`);
await runRaces(RACES);
console.log(
  `PNG size: ${((await writePng(picture, deflateInStrips)).length / 1e6).toFixed(1)} MB, sharp level 6 ${((await sharp(picture.data, raw).png({ compressionLevel: 6 }).toBuffer()).length / 1e6).toFixed(1)} MB`,
);

try {
  const script = `
import sys, time, numpy
from scipy.ndimage import distance_transform_edt
kept = numpy.frombuffer(sys.stdin.buffer.read(), numpy.uint8).reshape(${SIDE}, ${SIDE}) >= 128
t = time.perf_counter(); distance_transform_edt(~kept, return_distances=False, return_indices=True); print((time.perf_counter() - t) * 1000)`;
  const found = execFileSync('/usr/bin/python3', ['-c', script], { input: mask.data, maxBuffer: 1 << 20 }).toString();
  const ours = await timed(() => bleedColour(picture, mask, 128, env));
  console.log(
    `bleed ${ours.toFixed(0)} ms beside scipy.ndimage's nearest indices ${Number(found).toFixed(0)} ms: ratio ${(ours / Number(found)).toFixed(2)}`,
  );
} catch {
  console.log('scipy is not here (Debian python3-scipy): the bleed stands alone.');
}
