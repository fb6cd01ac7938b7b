// Colour, maps and fit at 4096², each beside sharp (libvips) or in milliseconds alone: medians of interleaved rounds.
import sharp from 'sharp';
import { SIDE } from './big-scan.ts';
import { apply, picture, raw, start } from './full-size.ts';
import { runRaces, type Race } from './race.ts';

const high = apply('height-from-picture', start);
sharp.concurrency(1);

const RACES: Race[] = [
  { name: 'ramp', ours: () => apply('ramp', start), wanted: 250 },
  { name: 'swing', ours: () => apply('swing', start) },
  { name: 'colour levels', ours: () => apply('colour-levels', start) },
  { name: 'flatten light', ours: () => apply('flatten-light', start) },
  { name: 'bleed, smooth', ours: () => apply('bleed', start, { how: 'smooth' }), wanted: 500 },
  { name: 'height from picture', ours: () => apply('height-from-picture', start) },
  { name: 'normal from height', ours: () => apply('normal-from-height', high), wanted: 350 },
  { name: 'occlusion', ours: () => apply('occlusion', high), wanted: 3000 },
  { name: 'translucency', ours: () => apply('translucency', high) },
  {
    name: 'turn by 30° and scale to 2048², Lanczos',
    ours: () => apply('turn-to-fit', start, { how: 'given angle', angle: 30, size: 2048 }),
    wanted: 1500,
    other: 'sharp rotate + resize',
    theirs: () => sharp(picture.data, raw).rotate(30).resize(2048, 2048, { kernel: 'lanczos3' }).raw().toBuffer(),
  },
  {
    name: 'turn by 30°, 1 : 1, Lanczos',
    ours: () => apply('turn-to-fit', start, { how: 'given angle', angle: 30 }),
    other: 'sharp affine, bicubic',
    theirs: () =>
      sharp(picture.data, raw)
        .affine(
          [
            [0.866, 0.5],
            [-0.5, 0.866],
          ],
          { interpolator: 'bicubic' },
        )
        .raw()
        .toBuffer(),
  },
  {
    name: 'resize to a half, Lanczos',
    ours: () => apply('resize', start),
    wanted: 1500,
    other: 'sharp resize',
    theirs: () => sharp(picture.data, raw).resize(2048, 2048, { kernel: 'lanczos3' }).raw().toBuffer(),
  },
];

const only = process.argv.slice(2);
console.log(`${SIDE}², one thread of ours; medians in ms\n`);
await runRaces(only.length ? RACES.filter(({ name }) => only.some((part) => name.includes(part))) : RACES, 4);
