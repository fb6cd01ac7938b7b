import type { PieceDoc, Stroke } from '@lithe-sieve/core';
import type { WirePatch } from '@lithe-sieve/contract';
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { Kept } from './kept';
import { keptAtOnce } from './kept-at-once';
import { inTime } from './patience';

/** The document as it was before the first of the changes that wait, so that a version can be put together again. */
interface Base {
  pieceId: string;
  session: string;
  doc: PieceDoc;
}

/** A version of a piece that the server refused, until it is a piece of its own. */
export interface Aside {
  id: string;
  pieceId: string;
  session: string;
  doc: PieceDoc;
  strokes: Stroke[];
  /** What is said with it. */
  why: string;
}

interface Schema extends DBSchema {
  changes: { key: number; value: Kept; indexes: { piece: string; edit: string } };
  bases: { key: [session: string, piece: string]; value: Base };
  asides: { key: string; value: Aside };
}

/** What one page that is gone had not got to the server of a piece. */
export interface Left {
  session: string;
  /** In the order in which they were made. */
  changes: Kept[];
  /** The document before the first of them; null where it was not kept. */
  base: PieceDoc | null;
}

const VERSION = 2;
/** A page that is reloaded is gone this soon after the next one began. */
const GOING_MS = 1000;

const lockName = (of: string) => `lithe-sieve page ${of}`;

function openStorage(session: string): Promise<IDBPDatabase<Schema>> {
  // held as long as the page lives: what another page still has in hand is not taken from it
  void navigator.locks?.request(lockName(session), () => new Promise(() => undefined));
  return openDB<Schema>('lithe-sieve', VERSION, {
    upgrade(db, from, _to, transaction) {
      const changes = db.createObjectStore('changes', { keyPath: 'order', autoIncrement: true });
      changes.createIndex('piece', 'pieceId');
      changes.createIndex('edit', 'edit.editId');
      db.createObjectStore('bases');
      db.createObjectStore('asides', { keyPath: 'id' });
      if (from === 1) void takeOver(transaction as unknown as OldTransaction, (kept) => void changes.add(kept));
    },
    blocking: (_current, _wanted, event) => (event.target as IDBDatabase).close(), // a newer version of the page waits
  });
}

/** The first version ordered changes by the clock; from here on they are counted. */
interface OldTransaction {
  objectStore(name: 'pending'): { getAll(): Promise<(Kept & { order: number })[]> };
  db: { deleteObjectStore(name: string): void };
}

async function takeOver(transaction: OldTransaction, add: (kept: Kept) => void): Promise<void> {
  const old = await transaction.objectStore('pending').getAll();
  for (const { pieceId, session: maker, base, edit } of old.sort((a, b) => a.order - b.order)) {
    add({ pieceId, session: maker, base, edit });
  }
  transaction.db.deleteObjectStore('pending');
}

/**
 * Unconfirmed changes in the browser's own storage: a closed tab, a crash or a server that was killed loses nothing that
 * was finished. Where the browser offers no storage, changes are only sent, and the page says so.
 */
export class Journal {
  /** Changes of this page so far. */
  private made = 0;
  private opened: Promise<IDBPDatabase<Schema>> | undefined;
  private failed = false;
  private answered = false;
  private onFailed: () => void = () => undefined;

  /** @param session - Names the page that keeps its changes here. */
  constructor(readonly session: string) {}

  /** @param handler - Called when the storage turns out not to work. */
  whenFailed(handler: () => void): void {
    this.onFailed = handler;
  }

  /** @param before - The document before the change, where none was waiting. */
  async put(pieceId: string, base: number, edit: Kept['edit'], before: PieceDoc | null): Promise<void> {
    const { session } = this;
    keptAtOnce.put({ pieceId, session, base, edit }, this.made++);
    await this.withStorage(async (db) => {
      const transaction = db.transaction(['changes', 'bases'], 'readwrite');
      if (before) void transaction.objectStore('bases').put({ pieceId, session, doc: before }, [session, pieceId]);
      void transaction.objectStore('changes').add({ pieceId, session, base, edit });
      await transaction.done;
    });
    keptAtOnce.drop(edit.editId);
  }

  /** Forgets a change that the server has. */
  drop(editId: string): Promise<void> {
    keptAtOnce.drop(editId);
    return this.withStorage(async (db) => {
      const transaction = db.transaction('changes', 'readwrite');
      const key = await transaction.store.index('edit').getKey(editId);
      if (key !== undefined) void transaction.store.delete(key);
      await transaction.done;
    });
  }

  /** What pages that are gone left of a piece, a page after the other. */
  leftOf(pieceId: string): Promise<Left[]> {
    return this.withStorage(async (db) => {
      const all = withLast(await db.getAllFromIndex('changes', 'piece', pieceId)).filter((k) => k.pieceId === pieceId);
      const gone = await this.goneOf(
        all.map((k) => k.session),
        GOING_MS,
      );
      const left: Left[] = [];
      for (const maker of gone) {
        const changes = all
          .filter((k) => k.session === maker)
          .sort((a, b) => (a.order ?? Infinity) - (b.order ?? Infinity) || 0);
        left.push({ session: maker, changes, base: (await db.get('bases', [maker, pieceId]))?.doc ?? null });
      }
      return left;
    });
  }

  /** Pieces of which pages that are gone left something. */
  leftPieces(): Promise<string[]> {
    return this.withStorage(async (db) => {
      const all = withLast(await db.getAll('changes'));
      const gone = await this.goneOf(all.map((k) => k.session));
      return [...new Set(all.filter((k) => gone.includes(k.session)).map((k) => k.pieceId))];
    });
  }

  /**
   * Puts a refused version in the place of the changes that led to it.
   *
   * @param goesOn - This page goes on changing it: what follows stands on this version.
   */
  async setAside(aside: Omit<Aside, 'session'>, editIds: readonly string[], goesOn = false): Promise<void> {
    await this.withStorage(async (db) => {
      const { session } = this;
      const { pieceId, doc } = aside;
      const transaction = db.transaction(['changes', 'bases', 'asides'], 'readwrite');
      void transaction.objectStore('asides').put({ ...aside, session });
      if (goesOn) void transaction.objectStore('bases').put({ pieceId, session, doc }, [session, pieceId]);
      for (const editId of editIds) {
        const key = await transaction.objectStore('changes').index('edit').getKey(editId);
        if (key !== undefined) void transaction.objectStore('changes').delete(key);
      }
      await transaction.done;
    });
    for (const editId of editIds) keptAtOnce.drop(editId);
  }

  dropAside(id: string): Promise<void> {
    return this.withStorage((db) => db.delete('asides', id));
  }

  /** Refused versions that pages which are gone could not bring to the server. */
  leftAsides(): Promise<Aside[]> {
    return this.withStorage(async (db) => {
      const all = await db.getAll('asides');
      const gone = await this.goneOf(all.map((a) => a.session));
      return all.filter((a) => gone.includes(a.session));
    });
  }

  /** Whether a page does not live any more. */
  async isGone(of: string): Promise<boolean> {
    return (await this.goneOf([of])).length > 0;
  }

  /** Works on the storage; what fails is said; a storage that never answered is not waited for again. */
  private async withStorage<R>(work: (db: IDBPDatabase<Schema>) => Promise<R>): Promise<R> {
    if (this.failed) throw new Error('The storage of this browser does not work.');
    try {
      const through = (this.opened ??= openStorage(this.session)).then((db) => {
        this.answered = true;
        return work(db);
      });
      return await inTime(through);
    } catch (error) {
      this.failed = !this.answered; // one answer that is late or refused does not end the keeping of all that follows
      this.onFailed();
      throw error;
    }
  }

  /** Those of these pages, in order, that do not live any more, or are gone within the time. */
  private async goneOf(sessions: readonly string[], withinMs = 0): Promise<string[]> {
    const others = [...new Set(sessions)].filter((s) => s !== this.session);
    const held = new Set((await navigator.locks?.query())?.held?.map((l) => l.name));
    const live = others.map(lockName).map(async (name) => held.has(name) && (withinMs === 0 || stays(name, withinMs)));
    const lives = await Promise.all(live);
    return others.filter((_, i) => !lives[i]);
  }
}

/** The journal of this page. */
export const journal = new Journal(crypto.getRandomValues(new Uint32Array(2)).join('-'));

/** With the changes of the last moments of a page, which the database did not get any more. */
function withLast(kept: readonly Kept[]): Kept[] {
  const known = new Set(kept.map((k) => k.edit.editId));
  return [...kept, ...keptAtOnce.all().filter((k) => !known.has(k.edit.editId))];
}

/** Whether a page still holds its lock after that time. */
const stays = (name: string, ms: number): Promise<boolean> =>
  navigator.locks.request(name, { signal: AbortSignal.timeout(ms) }, () => false).catch(() => true);

/** What changes lead to, one after the other. @throws where one does not fit. */
export function putTogether(
  base: PieceDoc,
  changes: readonly Kept[],
  apply: (doc: PieceDoc, patches: readonly WirePatch[]) => PieceDoc,
): PieceDoc {
  return changes.reduce((doc, { edit }) => apply(doc, edit.kind === 'do' ? edit.entry.patches : edit.patches), base);
}
