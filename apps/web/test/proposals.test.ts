import { afterAll, beforeAll, beforeEach, expect, test } from '@jest/globals';
import { makeMask, makePicture, makeStep, type AllProposed, type SourceRef } from '@lithe-sieve/core';
import * as Comlink from 'comlink';
import { createPinia, setActivePinia } from 'pinia';
import { nextTick, reactive } from 'vue';
import { defineProposals } from '../src/stores/open-piece/proposals';
import type { EngineStore } from '../src/stores/open-piece/engine';
import type { PieceStore } from '../src/stores/open-piece/piece';
import type { Answer } from '../src/workers/types';

/** Answers as a test says; both ends in this thread. */
const desk = {
  asked: 0,
  ended: 0,
  answer: (): Promise<Answer<AllProposed>> => Promise.resolve(null),
};
class FakeWorker extends EventTarget {
  private readonly inner = Object.assign(new EventTarget(), {
    postMessage: (data: unknown) => void this.dispatchEvent(new MessageEvent('message', { data })),
  });

  constructor() {
    super();
    const propose = () => (desk.asked++, desk.answer());
    Comlink.expose({ attach: () => undefined, warmUp: () => undefined, propose }, this.inner);
  }

  postMessage(data: unknown): void {
    this.inner.dispatchEvent(new MessageEvent('message', { data }));
  }

  terminate(): void {
    desk.ended++;
  }
}

const before = globalThis.Worker;
beforeAll(() => void Object.assign(globalThis, { Worker: FakeWorker }));
afterAll(() => void Object.assign(globalThis, { Worker: before }));

const picture = makePicture(8, 8, new Uint8Array(256));
const proposed = (kind: 'from-channel' | 'from-backdrop') => ({
  run: [makeStep('proposed', kind)],
  mask: makeMask(8, 8, new Uint8Array(64)),
  title: 'Light',
  reason: 'What is light is kept.',
  likelihood: 1,
});
const found = {
  likeliest: [proposed('from-backdrop')],
  ofKinds: [proposed('from-channel'), proposed('from-backdrop')],
};
const source = (id: string, role?: SourceRef['role']): SourceRef => ({ id, sha256: id.repeat(64), fileName: `${id}.png`, role }); // prettier-ignore

let number = 0;
function open(sources: SourceRef[]) {
  const piece = reactive({ id: 'piece', sources });
  const engine = reactive({
    mask: {},
    engine: () => ({ smallPicture: () => Promise.resolve({ picture, scale: 0.5 }) }),
  });
  const scope = `test ${++number}`;
  const store = defineProposals(scope, () => piece as unknown as PieceStore, () => engine as unknown as EngineStore)(); // prettier-ignore
  return { piece, engine, store };
}

beforeEach(() => {
  setActivePinia(createPinia());
  Object.assign(desk, { asked: 0, ended: 0, answer: () => Promise.resolve({ ok: true, value: found }) });
});

test('nothing is asked for while nobody looks; once for the same sources, again for others', async () => {
  const { piece, store } = open([source('a')]);
  await nextTick();
  expect([desk.asked, store.busy]).toEqual([0, false]);
  const end = store.look();
  await store.settled();
  expect(store.now?.likeliest).toHaveLength(1);
  expect(store.now?.likeliest[0].run[0].id).not.toBe('proposed'); // an id of this piece
  end();
  const again = store.look();
  await store.settled();
  expect(desk.asked).toBe(1);
  piece.sources = [source('b')];
  await store.settled();
  expect([desk.asked, store.now?.picture.width]).toEqual([2, 8]);
  again();
  end(); // twice is once
  expect(store.now).toBeNull();
});

test('what fails is said, and tried again when that is asked for', async () => {
  desk.answer = () => Promise.resolve({ ok: false, error: { code: 'too-large', message: 'No room.', remedy: 'Close a tab.' } }); // prettier-ignore
  const { store } = open([source('a')]);
  store.look();
  await store.settled();
  expect([store.failure?.message, store.failure?.remedy, store.now]).toEqual(['No room.', 'Close a tab.', null]);
  desk.answer = () => Promise.resolve({ ok: true, value: found });
  store.tryAgain();
  await store.settled();
  expect([store.failure, store.now?.ofKinds.length]).toEqual([null, 2]);
});

test('a picture that is left while it is looked at: its worker is ended, and its answer is no other picture’s', async () => {
  let answer: (value: Answer<AllProposed>) => void = () => undefined;
  desk.answer = () => new Promise((resolve) => (answer = resolve));
  const { piece, store } = open([source('a')]);
  store.look();
  await nextTick();
  await new Promise((resolve) => setTimeout(resolve, 20));
  expect([desk.asked, store.busy]).toEqual([1, true]);
  desk.answer = () => Promise.resolve({ ok: true, value: { likeliest: [], ofKinds: [] } });
  piece.sources = [source('b')];
  await store.settled();
  answer({ ok: true, value: found });
  await new Promise((resolve) => setTimeout(resolve, 20));
  expect([store.now?.likeliest.length, desk.ended]).toEqual([0, 1]);
});

test('with a mask picture among the sources the channel of the colour is not offered; recipes bring their own', async () => {
  const { store } = open([source('a'), source('m', 'mask')]);
  store.look();
  await store.settled();
  expect(store.now?.ofKinds.map(({ run }) => run[0].kind)).toEqual(['from-backdrop']);
  const grown = open([{ ...source('r'), recipe: {} as SourceRef['recipe'] }]);
  grown.store.look();
  await nextTick();
  expect([grown.store.busy, desk.asked]).toEqual([false, 1]);
});
