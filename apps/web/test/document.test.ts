import { afterEach, describe, expect, jest, test } from '@jest/globals';
import type { Edit } from '@lithe-sieve/contract';
import { makeStep, PIECE_DEFAULTS, type PieceDoc } from '@lithe-sieve/core';
import { applyPatches, type Patch } from 'immer';
import { diffDocs } from '../src/document/diff';
import { sharing } from '../src/document/share';
import { SaveQueue, type SaveHost, type SaveState } from '../src/document/save-queue';
import { nameOfKey } from '../src/features/keys/keys';

const doc = (values: Partial<PieceDoc> = {}): PieceDoc => ({
  ...PIECE_DEFAULTS,
  name: 'Leaf',
  sources: [],
  run: [
    makeStep('s1', 'from-colour', { drop: [[1, 2, 3]] }),
    makeStep('s2', 'levels'),
    makeStep('s3', 'bleed'),
    makeStep('s4', 'strokes', { strokes: ['aaaaaa', 'bbbbbb'] }),
  ],
  ...values,
});

const withStrokes = (...strokes: string[]) =>
  doc({ run: doc().run.map((s) => (s.kind === 'strokes' ? { ...s, params: { strokes } } : s)) });

describe('the difference of two documents', () => {
  const changed: [string, PieceDoc, number][] = [
    ['one number', doc({ material: { ...PIECE_DEFAULTS.material, cutoff: 0.3 } }), 1],
    [
      'a parameter of a step',
      doc({ run: doc().run.map((s) => (s.kind === 'levels' ? { ...s, params: { ...s.params, gamma: 2 } } : s)) }),
      1,
    ],
    [
      'a swatch more',
      doc({
        run: doc().run.map((s) =>
          s.kind === 'from-colour'
            ? {
                ...s,
                params: {
                  ...s.params,
                  drop: [
                    [1, 2, 3],
                    [4, 5, 6],
                  ],
                },
              }
            : s,
        ),
      }),
      1,
    ],
    ['a stroke more', withStrokes('aaaaaa', 'bbbbbb', 'cccccc'), 1],
    ['strokes fewer', withStrokes('aaaaaa'), 1],
    ['a step moved', doc({ run: doc().run.toSpliced(0, 2, doc().run[1], doc().run[0]) }), 1],
    ['a step less', doc({ run: doc().run.slice(1) }), 1],
    ['nothing', doc(), 0],
  ];
  test.each(changed)('%s: the change and its reverse lead there and back', (_, to, size) => {
    const from = doc();
    const { patches, inverse } = diffDocs(from, to);
    expect(applyPatches(from, patches as Patch[])).toEqual(to);
    expect(applyPatches(to, inverse as Patch[])).toEqual(from);
    expect(patches.length).toBe(size);
  });
});

test('what did not change keeps its identity', () => {
  const from = doc();
  const copy = () => JSON.parse(JSON.stringify(from)) as PieceDoc;
  const to = copy();
  expect(sharing(from, to)).toBe(from);
  const other = copy();
  other.material.cutoff = 0.2;
  const shared = sharing(from, other);
  expect([shared.run === from.run, shared.material.cutoff, from.material.cutoff]).toEqual([true, 0.2, 0.5]);
  expect(Object.keys(sharing({ b: 1, a: 2 }, { a: 3, c: 4, b: 1 }))).toEqual(['b', 'a', 'c']);
  expect(sharing<unknown>({ a: 1, b: undefined }, { a: 1 })).toEqual({ a: 1 });
});

describe('saving', () => {
  afterEach(() => {
    jest.useRealTimers();
  });
  const entry = { label: 'x', patches: [], inverse: [] };
  function queueWith(send: (edit: Edit) => Promise<{ revision: number }>) {
    const states: SaveState[] = [];
    const ended: string[] = [];
    const host: SaveHost = {
      send,
      keep: () => Promise.resolve(),
      confirmed: () => undefined,
      onState: (s) => states.push(s),
      onStale: () => void ended.push('onStale'),
      onRefused: () => void ended.push('onRefused'),
      isStale: (e) => (e as Error).message === 'stale',
      isUnreachable: (e) => (e as Error).message === 'silent',
    };
    return { queue: new SaveQueue(1, host), ended, states };
  }
  const turn = async () => {
    for (let i = 0; i < 20; i++) await Promise.resolve();
  };

  test('sends one after the other, each on the revision before it', async () => {
    const sent: Edit[] = [];
    const { queue, states } = queueWith((edit) => {
      sent.push(edit);
      return Promise.resolve({ revision: edit.baseRevision + 1 });
    });
    queue.push({ kind: 'do', entry });
    queue.push({ kind: 'undo' });
    await turn();
    expect(sent.map((e) => [e.kind, e.baseRevision])).toEqual([
      ['do', 1],
      ['undo', 2],
    ]);
    expect([queue.empty, queue.current, states.at(-1)]).toEqual([true, 3, 'saved']);
  });

  test('waits while the server is silent and loses nothing', async () => {
    jest.useFakeTimers();
    let silent = true;
    const { queue, states } = queueWith((edit) =>
      silent ? Promise.reject(new Error('silent')) : Promise.resolve({ revision: edit.baseRevision + 1 }),
    );
    queue.push({ kind: 'do', entry });
    await turn();
    expect([states.at(-1), queue.empty]).toEqual(['waiting', false]);
    silent = false;
    await jest.advanceTimersByTimeAsync(2000);
    expect([states.at(-1), queue.empty, queue.current]).toEqual(['saved', true, 2]);
  });

  test.each([
    ['stale', 'onStale'],
    ['other', 'onRefused'],
  ] as const)('stops at a refusal: %s', async (error, handler) => {
    const { queue, ended } = queueWith(() => Promise.reject(new Error(error)));
    queue.push({ kind: 'do', entry });
    queue.push({ kind: 'undo' });
    await turn();
    expect(ended).toEqual([handler]);
    queue.push({ kind: 'redo' });
    await turn();
    expect(ended).toEqual([handler]);
  });
});

test('keys are named as they are listed', () => {
  const name = (init: KeyboardEventInit) => nameOfKey(new KeyboardEvent('keydown', init));
  expect(name({ key: 'z', ctrlKey: true })).toBe('Ctrl+z');
  expect(name({ key: 'Z', ctrlKey: true, shiftKey: true })).toBe('Ctrl+Shift+z');
  expect(name({ key: '?', shiftKey: true })).toBe('?');
  expect(name({ key: 'ArrowLeft', altKey: true })).toBe('Alt+ArrowLeft');
});
