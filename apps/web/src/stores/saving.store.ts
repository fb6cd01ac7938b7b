import { defineStore } from 'pinia';
import { computed, shallowRef } from 'vue';
import { ApiError } from '../api/http';
import * as piecesApi from '../api/pieces.api';
import { Backoff } from '../document/backoff';
import { journal, type Aside } from '../document/journal';
import { Keeper, type KeeperHost, type KeeperTools } from '../document/keeper';
import type { SaveState } from '../document/save-queue';
import { useNoticesStore } from './notices.store';

/** Answers after which a change can never be taken: a conflict, a change that is not valid, one that is too large. */
const REFUSALS = [409, 413, 422];

const TOOLS: KeeperTools = {
  send: (pieceId, edit) => piecesApi.sendEdit(pieceId, edit),
  copy: (body) => piecesApi.copyPiece(body),
  open: (pieceId) => piecesApi.openWhole(pieceId),
  journal,
  isRefusal: (error) => error instanceof ApiError && REFUSALS.includes(error.status),
};

/** A piece that is opened with the page brings its changes back by itself. */
const OPENING_MS = 5000;

const SAVED: SaveState = { kind: 'saved' };

/** The changes of all pieces that this page worked on, until the server has them: of pieces that were left too. */
export const useSavingStore = defineStore('saving', () => {
  const notices = useNoticesStore();
  const states = shallowRef(new Map<Keeper, SaveState>());

  journal.whenFailed(() =>
    notices.tell({
      id: 'storage',
      bad: true,
      text: 'This browser stores nothing for this page: changes that the server has not confirmed are lost when the tab is closed.',
      remedy: 'Wait for “saved” before you close it. This happens in private windows and where storage is blocked.',
    }),
  );

  function keeperOf(pieceId: string, revision: number, host: Omit<KeeperHost, 'onState'>): Keeper {
    const keeper: Keeper = new Keeper(pieceId, revision, TOOLS, {
      ...host,
      onState: (state) => setState(keeper, state),
      onKeptAside: (copyId, why, newest) => {
        sayKept(pieceId, host.doc().name, copyId, why);
        host.onKeptAside(copyId, why, newest);
      },
    });
    return keeper;
  }

  function setState(keeper: Keeper, state: SaveState): void {
    const next = new Map(states.value);
    if (state.kind === 'saved') next.delete(keeper);
    else next.set(keeper, state);
    states.value = next;
  }

  function sayKept(pieceId: string, name: string, copyId: string, why: string): void {
    notices.tell({
      id: `aside ${pieceId}`,
      about: { pieceId, name },
      bad: false,
      text: `${why} The newest saved version is shown; yours is kept as`,
      remedy: '',
      link: { pieceId: copyId, label: 'a separate piece' },
    });
  }

  /** The worst of all: what waits longest without going through. */
  const state = computed<SaveState>(() => {
    const all = [...states.value.values()];
    const count = all.reduce((sum, s) => sum + (s.kind === 'saved' ? 0 : s.count), 0);
    const stuck = all.filter((s) => s.kind === 'waiting').sort((a, b) => a.since.getTime() - b.since.getTime());
    if (stuck.length > 0) return { ...stuck[0], count };
    return count > 0 ? { kind: 'saving', count } : SAVED;
  });
  const isAllSaved = () => states.value.size === 0;

  function tryNow(): void {
    for (const keeper of states.value.keys()) keeper.tryNow();
  }
  window.addEventListener('online', tryNow);

  /** Makes what does not go through a piece of its own, from whatever this page has of it. */
  function keepAsCopies(): void {
    for (const [keeper, s] of states.value)
      if (s.kind === 'waiting') keeper.queue.refuse(new Error('Kept as a copy, as you asked.'));
  }

  /** What pages that are gone could not bring to the server: refused versions now, changes when their piece is opened. */
  async function bringAsidesBack(): Promise<void> {
    const left = await journal.leftAsides().catch(() => []);
    for (const aside of left) void bringAsideBack(aside);
    await new Promise((resolve) => setTimeout(resolve, OPENING_MS));
    for (const pieceId of await journal.leftPieces().catch(() => [])) {
      notices.tell({
        id: `left ${pieceId}`,
        bad: true,
        text: 'Unsaved changes of a page that was closed are waiting in this browser.',
        remedy: 'They are saved when their piece is opened:',
        link: { pieceId, label: 'open it' },
      });
    }
  }

  async function bringAsideBack({ id, pieceId, doc, strokes, why }: Aside): Promise<void> {
    const backoff = new Backoff();
    for (;;) {
      try {
        await piecesApi.copyPiece({ id, doc, strokes });
        await journal.dropAside(id).catch(() => undefined);
        sayKept(pieceId, doc.name, id, why);
        return;
      } catch (error) {
        notices.tell({
          id: `aside ${id}`,
          bad: true,
          text: `An unsaved version of “${doc.name}” is waiting in this browser: ${(error as Error).message}`,
          remedy: 'Saving is retried while this page is open, and when it is next opened.',
        });
        if (TOOLS.isRefusal(error)) return;
        await backoff.pause();
      }
    }
  }

  /** A version that was put together from what a page left, as a piece of its own. */
  async function keepLeftVersion(aside: Omit<Aside, 'session'>, editIds: readonly string[]): Promise<void> {
    await journal.setAside(aside, editIds).catch(() => undefined);
    void bringAsideBack({ ...aside, session: '' });
  }

  return { state, isAllSaved, keeperOf, tryNow, keepAsCopies, bringAsidesBack, keepLeftVersion };
});
