import { afterEach, describe, expect, jest, test } from '@jest/globals';
import type { CopyPiece, Edit, Piece } from '@lithe-sieve/contract';
import { PIECE_DEFAULTS, type PieceDoc } from '@lithe-sieve/core';
import { Keeper, type KeeperHost, type KeeperTools } from '../src/document/keeper';
import { SaveQueue, type PendingEdit, type SaveHost, type SaveState } from '../src/document/save-queue';

const entry = { label: 'x', patches: [], inverse: [] };
const done: PendingEdit = { kind: 'do', entry };
const turn = async () => {
  for (let i = 0; i < 40; i++) await Promise.resolve();
};
afterEach(() => {
  jest.useRealTimers();
});

describe('the queue of changes', () => {
  function queueWith(send: (edit: Edit) => Promise<{ revision: number }>) {
    const states: SaveState[] = [];
    const confirmed: string[] = [];
    const refused: unknown[] = [];
    const host: SaveHost = {
      send,
      keep: () => Promise.resolve(),
      confirmed: (id) => confirmed.push(id),
      onState: (s) => states.push(s),
      onRefused: (error) => refused.push(error),
      isRefusal: (e) => (e as Error).message === 'refused',
    };
    return { queue: new SaveQueue(1, host), states, confirmed, refused };
  }
  const taken = (edit: Edit) => Promise.resolve({ revision: edit.baseRevision + 1 });

  test('sends one after the other, each on the revision before it', async () => {
    const sent: Edit[] = [];
    const { queue, states } = queueWith((edit) => (sent.push(edit), taken(edit)));
    queue.push(done);
    queue.push({ kind: 'undo', patches: [{ op: 'replace', path: ['name'], value: 'only for this browser' }] });
    await turn();
    expect(sent.map((e) => [e.kind, e.baseRevision])).toEqual([
      ['do', 1],
      ['undo', 2],
    ]);
    expect(sent[1]).not.toHaveProperty('patches');
    expect([queue.empty, queue.current, states.at(-1)]).toEqual([true, 3, { kind: 'saved' }]);
  });

  // every answer that is no refusal: the server is silent, 500, full disk, an answer that makes no sense
  test('tries again for as long as it takes, says how much waits, why and since when, and loses nothing', async () => {
    jest.useFakeTimers({ now: 0 });
    let fails = 40;
    const { queue, states, confirmed, refused } = queueWith((edit) =>
      fails-- > 0
        ? Promise.reject(Object.assign(new Error('The disk is full.'), { remedy: 'Make room.' }))
        : taken(edit),
    );
    for (let i = 0; i < 25; i++) queue.push(done);
    await turn();
    const since = new Date(0);
    expect(states.at(-1)).toEqual({
      kind: 'waiting',
      count: 25,
      why: 'The disk is full.',
      remedy: 'Make room.',
      since,
    });
    await jest.advanceTimersByTimeAsync(60_000);
    queue.push(done);
    expect(states.at(-1)).toEqual({
      kind: 'waiting',
      count: 26,
      why: 'The disk is full.',
      remedy: 'Make room.',
      since,
    });
    expect(confirmed).toEqual([]);
    await jest.advanceTimersByTimeAsync(15_000 * 40);
    expect([states.at(-1), queue.empty, queue.current, confirmed.length]).toEqual([{ kind: 'saved' }, true, 27, 26]);
    expect(refused).toEqual([]);
  });

  test('tries at once on request', async () => {
    jest.useFakeTimers({ now: 0 });
    let silent = true;
    const { queue } = queueWith((edit) => (silent ? Promise.reject(new Error('silent')) : taken(edit)));
    queue.push(done);
    await jest.advanceTimersByTimeAsync(30_000);
    silent = false;
    queue.tryNow();
    await jest.advanceTimersByTimeAsync(0);
    expect(queue.empty).toBe(true);
  });

  test('a refusal confirms nothing, and what is done after it waits too', async () => {
    const { queue, confirmed, refused } = queueWith(() => Promise.reject(new Error('refused')));
    queue.push(done);
    queue.push(done);
    await turn();
    queue.push(done);
    await turn();
    queue.refuse(new Error('by hand'));
    expect([refused.length, confirmed.length, queue.look().length]).toEqual([1, 0, 3]);
  });
});

describe('a change that the server can never take', () => {
  const doc = (name: string, cutoff = 0.5): PieceDoc => ({
    ...PIECE_DEFAULTS,
    name,
    sources: [],
    run: [],
    material: { ...PIECE_DEFAULTS.material, cutoff },
  });
  const newest = { piece: { revision: 7 } as Piece, strokes: [] };

  function keeperWith(tools: Partial<KeeperTools>, host: Partial<KeeperHost> = {}) {
    const dropped: string[] = [];
    const asides: string[] = [];
    const kept: unknown[] = [];
    const states: SaveState[] = [];
    const keeper = new Keeper(
      'piece',
      1,
      {
        send: () => Promise.reject(new Error('refused')),
        copy: () => Promise.resolve({ id: 'copy' }),
        open: () => Promise.resolve(newest),
        journal: {
          put: () => Promise.resolve(),
          drop: (id) => Promise.resolve(void dropped.push(id)),
          setAside: ({ id }) => Promise.resolve(void asides.push(id)),
          dropAside: (id) => Promise.resolve(void asides.splice(asides.indexOf(id), 1)),
        },
        isRefusal: (e) => (e as Error).message === 'refused',
        ...tools,
      },
      {
        doc: () => doc('Leaf', 0.3),
        docBefore: () => doc('Leaf'),
        isOpen: () => true,
        inGesture: () => false,
        onState: (s) => states.push(s),
        onKeptAside: (id, why, piece) => kept.push([id, why, piece]),
        ...host,
      },
    );
    return { keeper, dropped, asides, kept, states };
  }

  test('becomes a piece of its own, and the newest version is shown', async () => {
    const copies: CopyPiece[] = [];
    const { keeper, kept, dropped, asides, states } = keeperWith({
      copy: (body) => (copies.push(body), Promise.resolve({ id: 'copy' })),
    });
    keeper.push(done);
    keeper.push(done);
    await turn();
    expect(copies.map((c) => [c.doc.name, c.doc.material.cutoff])).toEqual([['Leaf (other tab)', 0.3]]);
    expect(kept).toEqual([['copy', 'refused', newest]]);
    expect([dropped.length, asides, states.at(-1)]).toEqual([2, [], { kind: 'saved' }]);
  });

  test('two tabs and a server that fails at the copy and at the reload: all that is done meanwhile is in the copy', async () => {
    jest.useFakeTimers({ now: 0 });
    let now = doc('Leaf', 0.3);
    let failing = true;
    const sent: { to: string; edit: Edit }[] = [];
    const fail = () => Promise.reject(new Error('500'));
    const { keeper, kept, dropped, asides } = keeperWith(
      {
        send: (to, edit) => {
          if (to === 'piece') return Promise.reject(new Error('refused'));
          sent.push({ to, edit });
          return Promise.resolve({ revision: 2 });
        },
        copy: () => (failing ? fail() : Promise.resolve({ id: 'copy' })),
        open: () => (failing ? fail() : Promise.resolve(newest)),
      },
      { doc: () => now },
    );
    keeper.push(done);
    await jest.advanceTimersByTimeAsync(20_000);
    for (const cutoff of [0.4, 0.5, 0.6]) {
      now = doc('Leaf', cutoff);
      keeper.push(done);
    }
    expect([kept, dropped, asides.length]).toEqual([[], [], 1]); // nothing is deleted
    failing = false;
    await jest.advanceTimersByTimeAsync(20_000);
    expect(sent.map((s) => [s.to, (s.edit as { entry: { patches: unknown } }).entry.patches])).toEqual([
      ['copy', [{ op: 'replace', path: ['material', 'cutoff'], value: 0.6 }]],
    ]);
    expect([kept.length, dropped.length, asides]).toEqual([1, 4, []]);
  });

  test('of a piece that was left, nothing is put in the place of what is open now', async () => {
    const { keeper, kept } = keeperWith({}, { isOpen: () => false });
    keeper.push(done);
    await turn();
    expect(kept).toEqual([['copy', 'refused', null]]);
  });
});
