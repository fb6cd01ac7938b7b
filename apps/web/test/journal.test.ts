import 'fake-indexeddb/auto';
import { beforeEach, expect, jest, test } from '@jest/globals';
import { PIECE_DEFAULTS, type PieceDoc } from '@lithe-sieve/core';
import { IDBFactory, IDBOpenDBRequest } from 'fake-indexeddb';
import { Journal, putTogether } from '../src/document/journal';

const doc: PieceDoc = { ...PIECE_DEFAULTS, name: 'Leaf', sources: [], run: [] };
const change = (editId: string, cutoff: number) => ({
  kind: 'do' as const,
  editId,
  entry: {
    label: 'x',
    patches: [{ op: 'replace' as const, path: ['material', 'cutoff'], value: cutoff }],
    inverse: [],
  },
});

/** The journal as another page has it, on the same storage. */
let pages = 0;
const page = () => new Journal(`page-${pages++}`);

beforeEach(() => {
  globalThis.indexedDB = new IDBFactory();
  localStorage.clear();
  globalThis.structuredClone ??= ((value: unknown) =>
    JSON.parse(JSON.stringify(value)) as unknown) as typeof structuredClone;
});

test('changes come back in the order in which they were made, whatever the clock says', async () => {
  const first = page();
  const clock = jest.spyOn(Date, 'now');
  for (const [i, at] of [5_000_000, 9_000, 7_000_000, 1].entries()) {
    clock.mockReturnValue(at);
    await first.put('piece', i + 1, change(`edit-${i}`, i / 10), i === 0 ? doc : null);
  }
  clock.mockRestore();
  await first.drop('edit-0');
  const journal = page();
  const [left] = await journal.leftOf('piece');
  expect(left.changes.map((k) => [k.edit.editId, k.base])).toEqual([
    ['edit-1', 2],
    ['edit-2', 3],
    ['edit-3', 4],
  ]);
  const last = putTogether(left.base!, left.changes, (d, [patch]) => ({
    ...d,
    material: { ...d.material, cutoff: patch.value as number },
  }));
  expect([left.base, last.material.cutoff]).toEqual([doc, 0.3]);
  expect(await journal.leftOf('another')).toEqual([]);
  expect([await journal.leftPieces(), await first.leftPieces()]).toEqual([['piece'], []]);
});

test('a page that goes while the next one opens leaves its changes to it; of one that stays they are its own', async () => {
  const held = new Set<string>();
  const first = page();
  const locks = {
    query: () => Promise.resolve({ held: [...held].map((name) => ({ name })) }),
    request: async (name: string, options: { signal?: AbortSignal } | (() => unknown), work?: () => unknown) => {
      if (typeof options === 'function') return void held.add(name);
      while (held.has(name)) {
        if (options.signal?.aborted) throw new Error('AbortError');
        await new Promise((resolve) => setTimeout(resolve, 5));
      }
      return work?.();
    },
  };
  Object.defineProperty(navigator, 'locks', { value: locks, configurable: true });
  try {
    await first.put('piece', 1, change('edit-1', 0.2), doc);
    setTimeout(() => held.clear(), 60);
    expect((await page().leftOf('piece')).length).toBe(1);
    const second = page();
    await second.put('other', 1, change('edit-2', 0.2), doc);
    expect(await page().leftOf('other')).toEqual([]);
  } finally {
    Reflect.deleteProperty(navigator, 'locks');
  }
});

test('a refused version takes the place of its changes until it is dropped', async () => {
  const first = page();
  await first.put('piece', 1, change('edit-1', 0.2), doc);
  await first.setAside({ id: 'aside1', pieceId: 'piece', doc, strokes: [], why: 'stale' }, ['edit-1']);
  const journal = page();
  expect(await journal.leftOf('piece')).toEqual([]);
  expect((await journal.leftAsides()).map((a) => [a.id, a.doc.name])).toEqual([['aside1', 'Leaf']]);
  await journal.dropAside('aside1');
  expect(await journal.leftAsides()).toEqual([]);
});

test('what is done after a version was set aside stands on that version', async () => {
  const first = page();
  await first.put('piece', 1, change('edit-1', 0.2), doc);
  const aside = { ...doc, name: 'Leaf (other tab)' };
  await first.setAside({ id: 'aside1', pieceId: 'piece', doc: aside, strokes: [], why: '' }, ['edit-1'], true);
  await first.put('piece', 2, change('edit-2', 0.3), null);
  const [left] = await page().leftOf('piece');
  expect([left.base?.name, left.changes.map((k) => k.edit.editId)]).toEqual(['Leaf (other tab)', ['edit-2']]);
});

test('one change that cannot be kept is said, and the next one is kept', async () => {
  const first = page();
  const said = jest.fn();
  first.whenFailed(said);
  const odd = Object.defineProperty(change('edit-1', 0), 'later', {
    enumerable: true,
    get: () => {
      throw new Error('cannot be copied');
    },
  });
  await expect(first.put('piece', 1, odd, null)).rejects.toThrow();
  await first.put('piece', 2, change('edit-2', 0.3), null);
  expect(said).toHaveBeenCalledTimes(1);
  expect((await page().leftOf('piece'))[0].changes.length).toBe(1);
});

test('what the version before kept is taken over, in its order', async () => {
  await new Promise<void>((resolve) => {
    const opening = indexedDB.open('lithe-sieve', 1);
    opening.onupgradeneeded = () => {
      const pending = opening.result.createObjectStore('pending');
      pending.createIndex('piece', 'pieceId');
      for (const [id, order] of [
        ['b', 20],
        ['a', 10],
        ['c', 30],
      ] as const)
        // prettier-ignore
        pending.put({ pieceId: 'piece', session: 'old', order, base: 1, edit: change(id, 0) }, id);
    };
    opening.onsuccess = () => {
      opening.result.close();
      resolve();
    };
  });
  const journal = page();
  expect((await journal.leftOf('piece'))[0].changes.map((k) => k.edit.editId)).toEqual(['a', 'b', 'c']);
});

test('storage that never answers is said once, and holds nothing up', async () => {
  jest.useFakeTimers();
  globalThis.indexedDB.open = () => new IDBOpenDBRequest();
  const journal = page();
  const said = jest.fn();
  journal.whenFailed(said);
  const put = journal.put('piece', 1, change('edit', 0), doc);
  const refused = expect(put).rejects.toThrow('does not answer');
  await jest.advanceTimersByTimeAsync(5000);
  await refused;
  await expect(journal.leftOf('piece')).rejects.toThrow('does not work');
  expect(said).toHaveBeenCalledTimes(1);
  jest.useRealTimers();
});

test('a change of the last milliseconds is there though the database never committed it, once', async () => {
  const first = page();
  await first.put('piece', 1, change('edit-a', 0.1), doc);
  expect(localStorage.length).toBe(0); // the database has it
  globalThis.indexedDB.open = () => new IDBOpenDBRequest(); // the tab ends before it answers
  const second = page();
  void second.put('piece', 2, change('edit-b', 0.2), null).catch(() => undefined);
  expect(localStorage.length).toBe(1);
  delete (globalThis.indexedDB as Partial<IDBFactory>).open;
  const journal = page();
  const left = await journal.leftOf('piece');
  expect(left.map((l) => l.changes.map((k) => [k.edit.editId, k.base]))).toEqual([[['edit-a', 1]], [['edit-b', 2]]]);
  expect(await journal.leftPieces()).toEqual(['piece']);
  await journal.drop('edit-b');
  expect(localStorage.length).toBe(0);
});

test('a version that was set aside takes its changes of the last moments with it', async () => {
  const first = page();
  await first.put('piece', 1, change('edit-a', 0.1), doc);
  localStorage.setItem('lithe-sieve at once 000000000 edit-a', JSON.stringify({ pieceId: 'piece', session: 'gone', base: 1, edit: change('edit-a', 0.1) })); // prettier-ignore
  await first.setAside({ id: 'copy', pieceId: 'piece', doc, strokes: [], why: 'x' }, ['edit-a']);
  const journal = page();
  expect([localStorage.length, await journal.leftOf('piece')]).toEqual([0, []]);
});
