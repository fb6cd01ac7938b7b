import { expect, test } from '@jest/globals';
import sharp from 'sharp';
import {
  makeRecipe,
  PIECE_DEFAULTS,
  recipeFacts,
  recipeKey,
  STEP_KINDS,
  type PieceDoc,
  type Recipe,
} from '@lithe-sieve/core';
import type { TipFile } from '@lithe-sieve/host';
import { MemoryBudget, QUICK } from '../src/worker/memory-budget.ts';
import { MemoryWatch } from '../src/worker/memory-watch.ts';
import { shared, WorkerPool } from '../src/worker/pool.ts';
import { memoryOf } from '../src/worker/task-memory.ts';
import type { HandOffTask, LookOverTask, SummariseTask } from '../src/worker/tasks.ts';

test('tasks take memory in turn: what does not fit waits, what is too much is alone, what is called off takes none', async () => {
  const budget = new MemoryBudget(100);
  const began: string[] = [];
  const take = async (name: string, bytes: number, signal?: AbortSignal) => {
    const giveBack = await budget.take(bytes, { signal });
    began.push(name);
    return giveBack;
  };
  const first = await take('first', 60);
  const off = new AbortController();
  const called = take('called off', 50, off.signal).catch(() => undefined);
  const huge = take('huge', 1000);
  const small = take('small', 10);
  await new Promise((resolve) => setTimeout(resolve));
  expect(began).toEqual(['first']);
  off.abort();
  await called;
  first();
  first(); // twice is once
  const alone = await huge;
  expect(began).toEqual(['first', 'huge']);
  alone();
  (await small)();
  expect(began).toEqual(['first', 'huge', 'small']);
  (await take('again', 100))();
});

test('a file that claims more than there is is refused before it is decoded, one that is read by rows is not', async () => {
  const pool = new WorkerPool(250 * 1024 * 1024);
  const picture = sharp({ create: { width: 6000, height: 6000, channels: 4, background: '#4568' } });
  const inspect = async (bytes: Buffer) => pool.run({ kind: 'inspect', bytes: shared(bytes) });
  await expect(inspect(await picture.clone().webp({ lossless: true }).toBuffer())).rejects.toMatchObject({
    kind: 'too-large',
    code: 'too-large-here',
    message: expect.stringContaining('Reading it would take 0.3 GB') as unknown,
  });
  expect((await inspect(await picture.clone().png().toBuffer())).facts).toMatchObject({ width: 6000, channels: 4 });
  await pool.close();
}, 60_000);

test('what a person waits for goes first, and a file that is read finds memory beside the largest task', async () => {
  const budget = new MemoryBudget(100, 25);
  const began: string[] = [];
  const giveBack = await budget.take(1000);
  const asked = [0, 1, 0, 1].map(async (rank, i) => {
    const done = await budget.take(75, { rank });
    began.push(`${rank} of ${i}`);
    done();
  });
  (await budget.take(25, { rank: QUICK }))();
  expect(began).toEqual([]);
  giveBack();
  await Promise.all(asked);
  expect(began).toEqual(['1 of 1', '1 of 3', '0 of 0', '0 of 2']);
});

test('beyond its memory the process ends the task that was reckoned to take most, and no other until that is freed', async () => {
  let resident = 1000;
  const watch = new MemoryWatch(100, () => resident);
  const ended: string[] = [];
  const letGo = [
    watch.add(10, () => ended.push('small')),
    watch.add(90, () => ended.push('large')),
    watch.add(50, () => ended.push('middle')),
  ];
  const looks = () => new Promise((resolve) => setTimeout(resolve, 350));
  resident = 1119;
  await looks();
  expect(ended).toEqual([]);
  resident = 1200;
  await looks();
  expect(ended).toEqual(['large']);
  letGo.forEach((let_) => let_());
});

const doc = (more: object): PieceDoc => ({
  ...structuredClone(PIECE_DEFAULTS),
  name: 'Piece',
  sources: [],
  run: [],
  ...more,
});
const grown = (recipe: Recipe) => ({ id: 'a', sha256: recipeKey(recipe), fileName: '', role: 'colour', recipe });
const summary = (recipe: Recipe, run: object[] = []): SummariseTask => {
  const source = { id: 'a', sha256: recipeKey(recipe), facts: recipeFacts(recipe), proxy: recipe };
  return { kind: 'summarise', doc: doc({ sources: [grown(recipe)], run }), sources: [source], strokes: [], tips: [] };
};
const MB = 1024 * 1024;

test('memory is reckoned by what files hold and what a fit makes of them, not by what a document says', async () => {
  const tip = await sharp({ create: { width: 4096, height: 4096, channels: 4, background: '#4568' } })
    .png()
    .toBuffer();
  const part = { sha256: 'f'.repeat(64), name: 'A leaf', width: 1, height: 1, share: 1, maps: [] };
  const recipe = { ...makeRecipe('tuft', { width: 64, height: 64 }), parts: [part] } as unknown as Recipe;
  const handOff = (tips: TipFile[]): HandOffTask => {
    const sources = [{ id: 'a', sha256: recipeKey(recipe), recipe }];
    return { kind: 'hand-off', doc: doc({ sources: [grown(recipe)], run: [] }), sources, strokes: [], tips };
  };
  const [without, with_] = [handOff([]), handOff([{ sha256: part.sha256, bytes: tip }])].map(memoryOf);
  expect(with_ - without).toBeGreaterThan(4096 * 4096 * 10);

  const small = makeRecipe('tuft', { width: 16, height: 16 });
  const side = { left: 4096, right: 4096, top: 4096, bottom: 4096 };
  const padded = { id: 'p', kind: 'pad', on: true, params: { ...STEP_KINDS.pad.defaults, ...side } };
  const full: HandOffTask = { ...handOff([]), doc: doc({ run: [padded], sources: [grown(small)] }) };
  expect(memoryOf({ ...full, sources: [{ id: 'a', sha256: '', recipe: small }] })).toBeGreaterThan(8208 ** 2 * 40);
  expect(memoryOf(summary(small, [padded]))).toBeLessThan(256 * MB); // computed smaller
});

test('what would take more than there is is refused in words, a hand-off as a file', async () => {
  const pool = new WorkerPool(256 * MB);
  const recipe = makeRecipe('tuft', { width: 4096, height: 4096 });
  const sources = [{ id: 'a', sha256: recipeKey(recipe), recipe }];
  const task: HandOffTask = {
    kind: 'hand-off',
    doc: doc({ sources: [grown(recipe)] }),
    sources,
    strokes: [],
    tips: [],
  };
  await expect(pool.run(task)).rejects.toMatchObject({
    code: 'too-large-here',
    message: expect.stringMatching(
      /Handing it off would take [01]\.\d GB of memory; this server may use 0\.2 GB/,
    ) as unknown,
  });
  await pool.close();
});

test('a task is ended beyond its time, and a file is read meanwhile', async () => {
  const pool = new WorkerPool(2048 * MB, (task) => (task.kind === 'summarise' ? 4000 : 60_000));
  await pool.warm();
  const slow = makeRecipe('weave', { across: 20000, seamless: true }); // a million shapes and more
  const both = [1, 2].map((seed) => pool.run(summary({ ...slow, seed })).catch((error: unknown) => error));
  await new Promise((resolve) => setTimeout(resolve, 500));
  const png = await sharp({ create: { width: 64, height: 64, channels: 4, background: '#4568' } })
    .png()
    .toBuffer();
  const ended = new Set<unknown>();
  for (const one of both) void one.then((error) => ended.add(error));
  expect((await pool.run({ kind: 'inspect', bytes: shared(png) })).facts).toMatchObject({ width: 64 });
  expect([...ended]).toEqual([]);
  for (const error of await Promise.all(both)) expect(error).toMatchObject({ code: 'took-too-long' });
  await pool.close();
}, 60_000);

test('a task whose time cannot be reckoned takes no memory with it', async () => {
  const pool = new WorkerPool(512 * MB);
  const gone: LookOverTask = { kind: 'look-over', file: '/nowhere/studio.sqlite' };
  for (let k = 0; k < 12; k++) await expect(pool.run(gone)).rejects.toMatchObject({ message: expect.stringContaining('no studio') as unknown }); // prettier-ignore
  const giveBack = await pool.budget.take(512 * MB, { signal: AbortSignal.timeout(1000) }); // all of it is there
  giveBack();
  await pool.close();
}, 60_000);
