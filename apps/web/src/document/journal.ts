import { openDB, type DBSchema } from 'idb';
import type { PendingEdit } from './save-queue';

/** A change that the server has not confirmed yet. */
export interface Kept {
  pieceId: string;
  /** Of the page that made it. */
  session: string;
  /** Counts up in the order in which changes were made. */
  order: number;
  /** The revision that it was made on, as far as the page knew. */
  base: number;
  edit: PendingEdit & { editId: string };
}

interface Schema extends DBSchema {
  pending: { key: string; value: Kept; indexes: { piece: string } };
}

const session = Math.random().toString(36).slice(2);
const lockName = (of: string) => `lithe-sieve page ${of}`;
let order = 0;
let opened: ReturnType<typeof open> | undefined;

function open() {
  // held as long as the page lives: what another page still has in hand is not taken from it
  void navigator.locks?.request(lockName(session), () => new Promise(() => undefined));
  return openDB<Schema>('lithe-sieve', 1, {
    upgrade(db) {
      db.createObjectStore('pending').createIndex('piece', 'pieceId');
    },
  });
}

/**
 * Unconfirmed changes in the browser's own storage: a closed tab, a crash or a server that was killed loses nothing that
 * was finished. Where the browser offers no storage, changes are only sent.
 */
export const journal = {
  async put(pieceId: string, base: number, edit: PendingEdit & { editId: string }): Promise<void> {
    const db = await (opened ??= open());
    const kept: Kept = { pieceId, session, order: Date.now() * 1000 + (order++ % 1000), base, edit };
    await db.put('pending', kept, edit.editId);
  },

  async drop(editId: string): Promise<void> {
    await (await (opened ??= open())).delete('pending', editId);
  },

  /** What pages that are gone left of a piece, in order. */
  async leftOf(pieceId: string): Promise<Kept[]> {
    const db = await (opened ??= open());
    const all = await db.getAllFromIndex('pending', 'piece', pieceId);
    const held = new Set((await navigator.locks?.query())?.held?.map((l) => l.name));
    const left = all.filter((k) => k.session !== session && !held.has(lockName(k.session)));
    return left.sort((a, b) => a.order - b.order);
  },
};
