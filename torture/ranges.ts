import {
  makeRecipe,
  makeStep,
  PIECE_DEFAULTS,
  RECIPE_KINDS,
  recipeKey,
  STEP_KIND_NAMES,
  STEP_KINDS,
  stepKind,
  WEAVE_PATTERNS,
  type PieceDoc,
  type Range,
  type Recipe,
  type StepEntry,
  type StepKindName,
} from '@lithe-sieve/core/testing';
import { noisePng } from './pictures.ts';
import { Studio } from './studio.ts';
import { Chance, times, type Extent, type Trial } from './trial.ts';

const MEMORY_MB = 256;
/** What the process may take more than while it did nothing. */
const MOST_MB = 1.25 * MEMORY_MB;
const AT_ONCE = 8;
/** A summary is ended by its own time, which is reckoned; this is for those that never end. */
const PATIENCE_MS = 120_000;
const SIDE = 128;

type Ends = [name: string, value: number][];
/** Both ends of every range. */
const endsOf = (ranges: object): Ends =>
  Object.entries(ranges as Record<string, Range>).flatMap(([name, { min, max }]): Ends => [
    [name, min],
    [name, max],
  ]);

/** All alone, and as many pairs at random. */
function settings(ranges: object, pairs: number, chance: Chance): Record<string, number>[] {
  const ends = endsOf(ranges);
  if (ends.length === 0) return [{}];
  const all = ends.map(([name, value]) => ({ [name]: value }));
  for (let k = 0; k < pairs; k++) all.push(Object.fromEntries([chance.of(ends), chance.of(ends), chance.of(ends)]));
  return all;
}

function recipes(chance: Chance): Recipe[] {
  const size = { width: 512, height: 512 };
  const drawn = (['tuft', 'spray', 'strands'] as const).flatMap((kind) =>
    settings(RECIPE_KINDS[kind].ranges, 24, chance).map((params) => makeRecipe(kind, { ...size, ...params })),
  );
  const woven = WEAVE_PATTERNS.flatMap((pattern) =>
    [false, true].flatMap((seamless) =>
      settings(RECIPE_KINDS.weave.ranges, 6, chance)
        .filter((params) => !('tint' in params || 'lightness' in params || 'richness' in params))
        .map((params) => makeRecipe('weave', { ...size, pattern, seamless, ...params })),
    ),
  );
  return [...drawn, ...woven];
}

/** What a step needs before it, and the sources it reads. */
function runOf(kind: StepKindName, params: object): StepEntry[] {
  const sourceId = 'sourceId' in STEP_KINDS[kind].defaults ? { sourceId: 'the-other' } : {};
  const step = makeStep('the-step', kind, { ...sourceId, ...params });
  const mask = makeStep('the-mask', 'from-channel', { sourceId: 'the-first', channel: 'alpha' });
  const isMap = stepKind(kind).stretch === 'maps' || kind === 'ramp-by-height';
  return [mask, ...(isMap ? [makeStep('the-height', 'height-from-edge')] : []), step];
}

/** A document in a few words. */
const saidOf = ({ name, sources: [{ recipe }], run }: PieceDoc) =>
  recipe
    ? `${recipe.kind} ${JSON.stringify(recipe.params).slice(0, 160)}`
    : `${name} ${JSON.stringify(run.at(-1)?.params).slice(0, 160)}`;

const docOf = (name: string, sources: PieceDoc['sources'], run: StepEntry[]): PieceDoc => ({
  ...structuredClone(PIECE_DEFAULTS),
  name,
  sources,
  run,
});

/**
 * Every recipe and step, the fit among them, at both ends of each of its ranges, alone and with others: the Stock shows each
 * piece or says why not, files are taken meanwhile, and the server stays within its memory.
 */
export async function ranges(extent: Extent): Promise<Trial> {
  const trial: Trial = {
    what: 'recipes and steps at the ends of their ranges',
    tries: 0,
    lost: 0,
    hangs: 0,
    errors: 0,
    seen: '',
  };
  const chance = new Chance(extent.seed + 9);
  const studio = new Studio();
  await studio.start(['--memory', String(MEMORY_MB)]);
  const files = [];
  for (let k = 0; k < 2; k++) files.push((await studio.bringIn(await noisePng(chance, SIDE))).json.sha256 as string);
  const idle = studio.memoryMb;
  const pictures = files.map((sha256, k) => ({ id: k === 0 ? 'the-first' : 'the-other', sha256, fileName: 'a.png' }));
  const docs = [
    ...recipes(chance).map((recipe) =>
      docOf('grown', [{ id: 'the-first', sha256: recipeKey(recipe), fileName: 'grown', recipe }], []),
    ),
    ...STEP_KIND_NAMES.flatMap((kind) =>
      settings(STEP_KINDS[kind].ranges, 3, chance).map((params) => docOf(kind, pictures, runOf(kind, params))),
    ),
  ];
  const chosen = docs.filter(() => extent.share >= 1 || chance.next() < extent.share * 3);
  let [most, refused, slowest] = [0, 0, 0];
  let [now, worst] = ['', ''];
  const watch = setInterval(() => {
    const more = studio.memoryMb - idle;
    if (more > most) [most, worst] = [more, now];
  }, 50);
  for (let from = 0; from < Math.max(1, chosen.length); from += AT_ONCE) {
    const ids: string[] = [];
    now = [...new Set(chosen.slice(from, from + AT_ONCE).map(saidOf))].join(', ');
    for (const doc of chosen.slice(from, from + AT_ONCE)) {
      const { status, json, hung } = await studio.call('POST', '/api/pieces/copies', { doc });
      if (hung) trial.hangs++;
      if (status === 200 || status === 201) ids.push(json.id as string);
      else trial.errors++; // all of them are within their ranges
      trial.tries++;
    }
    const started = Date.now();
    let waiting = new Set(ids);
    while (waiting.size > 0 && Date.now() - started < PATIENCE_MS) {
      const { json, hung } = await studio.get('/pieces?count=50');
      if (hung) trial.hangs++;
      if (!json) {
        trial.lost++; // the server went
        trial.seen = studio.printed.slice(-400);
        clearInterval(watch);
        return trial;
      }
      const { pieces } = json as { pieces: { id: string; fresh: boolean; problem: { code: string } | null }[] };
      const listed = pieces.filter((p) => waiting.has(p.id));
      refused += listed.filter((p) => p.fresh && p.problem).length;
      trial.errors += listed.filter((p) => p.fresh && p.problem?.code === 'internal').length;
      waiting = new Set(listed.filter((p) => !p.fresh).map((p) => p.id));
      const asked = Date.now();
      const { status, hung: late } = await studio.bringIn(await noisePng(chance, 32)); // who works here waits for nobody
      slowest = Math.max(slowest, Date.now() - asked);
      if (late || status !== 200) trial.hangs++;
      if (waiting.size > 0) await new Promise((resolve) => setTimeout(resolve, 100));
    }
    trial.hangs += waiting.size;
    if (waiting.size > 0) console.log(`never ended: ${now}`);
    for (const id of ids) await studio.call('DELETE', `/api/pieces/${id}`);
  }
  now = 'hand-offs';
  await bigOnes(studio, trial, extent, chance);
  clearInterval(watch);
  if (!studio.running) trial.lost++;
  if (most > MOST_MB) trial.errors++;
  await studio.stop();
  studio.remove();
  trial.seen = `${refused} refused in words; a file was taken meanwhile within ${(slowest / 1000).toFixed(1)} s; with --memory ${MEMORY_MB} the server took at most ${Math.round(most)} MB more than idle${most > MOST_MB ? ` (${worst})` : ''}`;
  return trial;
}

/** Hand-offs far larger than the memory: done within it, or refused in words. */
async function bigOnes(studio: Studio, trial: Trial, extent: Extent, chance: Chance): Promise<void> {
  const grown = (recipe: Recipe, run: StepEntry[] = []) =>
    docOf('large', [{ id: 'the-first', sha256: recipeKey(recipe), fileName: 'grown', recipe }], run);
  const side = 4096;
  const pad = makeStep('the-pad', 'pad', { left: side, right: side, top: side, bottom: side });
  const docs = [
    grown(makeRecipe('tuft', { width: side, height: side })),
    grown(makeRecipe('tuft', { width: 2 * side, height: 2 * side, seed: 2 })),
    grown(makeRecipe('tuft', { width: 16, height: 16 }), [pad]),
    grown(makeRecipe('weave', { width: 1024, height: 1024, pattern: 'lace', across: 2000, pitch: 20 })),
    grown(makeRecipe('strands', { width: 1024, height: 1024, strands: 6000 })),
  ];
  for (const doc of docs.slice(0, Math.max(1, times(docs.length, extent)))) {
    const { json } = await studio.call('POST', '/api/pieces/copies', { doc });
    const started = await studio.call('POST', `/api/pieces/${json.id}/hand-offs`, { revision: 1 });
    if (started.status !== 202) trial.errors++;
    const until = Date.now() + PATIENCE_MS;
    let job = started.json as { id: string; state: string; error: { code: string } | null };
    while (['waiting', 'running'].includes(job.state) && Date.now() < until) {
      await new Promise((resolve) => setTimeout(resolve, 200));
      job = (await studio.get(`/jobs/${job.id}`)).json as typeof job;
      if ((await studio.bringIn(await noisePng(chance, 32))).status !== 200) trial.hangs++;
    }
    if (job.state === 'running' || job.state === 'waiting') trial.hangs++;
    if (job.error?.code === 'internal') trial.errors++;
    trial.tries++;
  }
}
