import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import type { Job } from '@lithe-sieve/contract';
import { createPinia, setActivePinia } from 'pinia';
import { effectScope, type EffectScope } from 'vue';
import { useHandOff } from '../src/features/handoff/use-hand-off';
import { useEngine, usePiece } from '../src/stores/open-piece/open-piece';

type Hand = ReturnType<typeof useHandOff>;

const jobOf = (state: Job['state']): Job => ({
  id: 'job-0001',
  pieceId: 'sea-leaf',
  state,
  progress: state === 'done' ? 1 : 0.5,
  doing: '',
  error: null,
  report: null,
});
/** What is answered to each request, in turn; the last one again and again. */
let answers: (Job | null | { status: number; message: string })[];
let asked: string[];
let scope: EffectScope;

beforeEach(() => {
  jest.useFakeTimers();
  setActivePinia(createPinia());
  asked = [];
  globalThis.fetch = (input, init) => {
    asked.push(`${init?.method} ${input as string}`);
    const answer = answers.length > 1 ? answers.shift()! : answers[0];
    const failed = answer && 'status' in answer ? answer : null;
    const body = failed ? { code: 'x', message: failed.message, remedy: '' } : answer;
    const status = failed?.status ?? 200;
    return Promise.resolve({ ok: !failed, status, json: () => Promise.resolve(body) } as Response);
  };
});
afterEach(() => {
  scope.stop();
  jest.useRealTimers();
});

async function open(...next: typeof answers): Promise<Hand> {
  answers = [null, ...next];
  scope = effectScope();
  const hand = scope.run(() => useHandOff(() => 'sea-leaf'))!;
  await jest.advanceTimersByTimeAsync(0);
  return hand;
}

test('a hand-off is started at the revision that is saved, and watched until it ends', async () => {
  const hand = await open(jobOf('waiting'), jobOf('running'), jobOf('done'));
  void hand.write();
  await jest.advanceTimersByTimeAsync(0);
  expect([hand.job.value?.state, hand.running.value]).toEqual(['running', true]); // asked for at once, then from time to time
  await jest.advanceTimersByTimeAsync(1000);
  expect([hand.job.value?.state, hand.running.value]).toEqual(['done', false]);
  await jest.advanceTimersByTimeAsync(5000);
  expect(asked.map((a) => a.split('/api')[1])).toEqual([
    '/pieces/sea-leaf/hand-offs/latest',
    '/pieces/sea-leaf/hand-offs',
    '/jobs/job-0001',
    '/jobs/job-0001',
  ]);
});

test('it waits for what is not saved or not computed, says for which, and can be cancelled', async () => {
  const hand = await open(jobOf('done'));
  const saved = jest.spyOn(usePiece(), 'isSaved').mockReturnValue(false);
  const engine = useEngine();
  engine.busy = true;
  void hand.write();
  await jest.advanceTimersByTimeAsync(100);
  expect(hand.waiting.value?.reason).toMatch(/saved/);
  saved.mockReturnValue(true);
  await jest.advanceTimersByTimeAsync(100);
  expect(hand.waiting.value?.reason).toMatch(/computed in full/);
  hand.waiting.value = null; // Cancel
  await jest.advanceTimersByTimeAsync(100);
  engine.busy = false;
  await jest.advanceTimersByTimeAsync(1000);
  expect(asked).toHaveLength(1); // nothing was started
  void hand.write();
  await jest.advanceTimersByTimeAsync(100);
  expect(hand.job.value?.state).toBe('done');
});

test('a refused start is said; a server that is away for a while is asked again', async () => {
  const hand = await open({ status: 409, message: 'The piece has changed since.' });
  await hand.write();
  expect(hand.refused.value?.message).toBe('The piece has changed since.');
  answers = [jobOf('running'), { status: 500, message: 'away' }, jobOf('done')];
  void hand.write();
  await jest.advanceTimersByTimeAsync(0);
  expect([hand.job.value?.state, hand.refused.value?.message]).toEqual(['running', 'away']);
  await jest.advanceTimersByTimeAsync(600);
  expect(hand.job.value?.state).toBe('done');
});
