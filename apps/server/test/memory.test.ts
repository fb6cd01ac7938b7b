import { expect, test } from '@jest/globals';
import sharp from 'sharp';
import { MemoryBudget } from '../src/worker/memory-budget.ts';
import { shared, WorkerPool } from '../src/worker/pool.ts';

test('tasks take memory in turn: what does not fit waits, what is too much is alone, what is called off takes none', async () => {
  const budget = new MemoryBudget(100);
  const began: string[] = [];
  const take = async (name: string, bytes: number, signal?: AbortSignal) => {
    const giveBack = await budget.take(bytes, signal);
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
  const pool = new WorkerPool(100 * 1024 * 1024);
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
