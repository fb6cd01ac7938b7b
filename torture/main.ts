// npm run torture [-- --short | --share 0.1] [-- --seed N] [-- --only WORDS] [-- --write]
import { readFileSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { damagedDatabase } from './database.ts';
import { bombs, mutations } from './files.ts';
import { randomHands } from './hands.ts';
import { kills } from './kills.ts';
import { clock, folders, fullDisk, locks } from './machine.ts';
import { ranges } from './ranges.ts';
import { hostile } from './requests.ts';
import { Studio } from './studio.ts';
import type { Extent, Trial } from './trial.ts';

const TRIALS = {
  kills,
  fullDisk,
  locks,
  folders,
  clock,
  damagedDatabase,
  mutations,
  bombs,
  hostile,
  ranges,
  randomHands,
};
/** Of the full run; some twenty seconds. */
const SHORT_SHARE = 0.003;

const { values } = parseArgs({
  options: {
    short: { type: 'boolean', default: false },
    share: { type: 'string' },
    seed: { type: 'string', default: '1' },
    only: { type: 'string', default: '' },
    write: { type: 'boolean', default: false },
  },
});
const extent: Extent = {
  share: values.share === undefined ? (values.short ? SHORT_SHARE : 1) : Number(values.share),
  seed: Number(values.seed),
};
const wanted = values.only.split(',').filter(Boolean);
const done: (Trial & { seconds: number; megabytes: number })[] = [];
for (const [name, run] of Object.entries(TRIALS)) {
  if (wanted.length > 0 && !wanted.includes(name)) continue;
  const started = performance.now();
  Studio.mostAboveIdle = 0;
  const trial = await run(extent);
  const seconds = Math.round((performance.now() - started) / 1000);
  done.push({ ...trial, seconds, megabytes: Math.round(Studio.mostAboveIdle) });
  console.log(`${name}: ${JSON.stringify(done.at(-1))}`);
}

const table = [
  '| what was tried | how often | lost | hangs | errors of ours | seen |',
  '| --- | --- | --- | --- | --- | --- |',
  ...done.map(
    (t) =>
      `| ${t.what} | ${t.tries} | ${t.lost} | ${t.hangs} | ${t.errors} | ${t.seen}; ${t.seconds} s; server ${t.megabytes} MB above idle at the most |`,
  ),
].join('\n');
console.log(`\n${table}\n`);
if (values.write) {
  const page = fileURLToPath(new URL('../docs/reliability.md', import.meta.url));
  const text = readFileSync(page, 'utf8');
  const marked = /(<!-- torture -->\n)[^]*(<!-- end -->)/;
  writeFileSync(page, text.replace(marked, `$1\nSeed ${extent.seed}.\n\n${table}\n\n$2`));
}
const bad = done.reduce((sum, t) => sum + t.lost + t.hangs + t.errors, 0);
console.log(`${done.length} kinds of attack, ${bad} things that should not be.`);
process.exit(bad === 0 ? 0 : 1);
