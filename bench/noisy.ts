// Steps on a noisy scan beside the clean one, 4096², one thread: what depends on how many kinds of blocks, edges and
// regions there are takes longer on pictures as cameras take them. Medians of interleaved rounds.
import { extractChannel, holdAtDistance, makeMask, NO_MAPS, type RunState } from '@lithe-sieve/core/testing';
import { SIDE } from './big-scan.ts';
import { apply, env, picture, start } from './full-size.ts';
import { runRaces, type Race } from './race.ts';

/** Of each channel, alpha too, either way: about what a photograph at ISO 1600 has. From memory. */
const NOISE = 14;

function noisy(): RunState {
  const data = picture.data.slice();
  let seed = 1;
  for (let i = 0; i < data.length; i++) {
    seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
    const v = data[i] + Math.round((seed / 2 ** 32 - 0.5) * 2 * NOISE);
    data[i] = v < 0 ? 0 : v > 255 ? 255 : v;
  }
  const colour = { ...picture, data };
  return { colour, mask: extractChannel(colour, 'alpha', env), maps: NO_MAPS };
}

const states = [start, noisy()];
const high = states.map((state) => apply('height-from-picture', state));
const race = (name: string, work: (k: 0 | 1) => unknown): Race => ({
  name: `${name}, noisy`,
  ours: () => work(1),
  other: 'the clean scan',
  theirs: () => work(0),
});
const drop: [number, number, number][] = [[216, 211, 201]];
const RACES = [
  race('from colour', (k) => apply('from-colour', states[k], { drop, tolerance: 0.13 })),
  race('feather', (k) => apply('feather', states[k])),
  race('bleed, smooth', (k) => apply('bleed', states[k], { how: 'smooth' })),
  race('height from picture', (k) => apply('height-from-picture', states[k])),
  race('normal from height', (k) => apply('normal-from-height', high[k])),
  race('occlusion', (k) => apply('occlusion', high[k])),
  race('translucency', (k) => apply('translucency', states[k])),
  race('drop strays', (k) => apply('drop-strays', states[k])),
  race('hold', (k) => holdAtDistance(makeMask(SIDE, SIDE, states[k].mask.data), { cutoff: 0.5 })),
];
const only = process.argv.slice(2);
console.log(`${SIDE}², one thread; medians in ms\n`);
await runRaces(only.length ? RACES.filter(({ name }) => only.some((part) => name.includes(part))) : RACES, 3);
