import type { FollowEvent } from '@lithe-sieve/contract';
import { sourceChanges } from '@lithe-sieve/core';
import { defineStore } from 'pinia';
import { computed, shallowRef, watch } from 'vue';
import { followFiles } from '../api/follow.api';
import { usePiece } from './open-piece/open-piece';

/** What is known of a followed file. */
export interface Followed {
  /** When its last version came in here. */
  at: Date | null;
  /** Digest of that version. */
  sha256: string;
  /** What that version holds otherwise than the one before. */
  changes: string[];
  /** Why there is no newer version; the last good one stays. */
  problem: { message: string; remedy: string } | null;
}

type Version = Extract<FollowEvent, { kind: 'version' }>;

const NOTHING: Followed = { at: null, sha256: '', changes: [], problem: null };
const TRY_AGAIN_MS = 100;

/** The files on disk that sources of the open piece follow: every save becomes one undoable change. Session state. */
export const useFollowStore = defineStore('follow', () => {
  const piece = usePiece();
  const known = shallowRef(new Map<string, Followed>());
  const paths = computed(() => [...new Set(piece.sources.flatMap((s) => s.follows ?? []))].sort());

  watch(
    () => `${piece.id} ${paths.value.join('\n')}`,
    (_now, _before, onCleanup) => {
      if (!piece.id || paths.value.length === 0) return;
      const files = followFiles(paths.value, hear);
      onCleanup(() => files.stop());
    },
    { immediate: true },
  );

  function set(path: string, values: Partial<Followed>): void {
    known.value = new Map(known.value).set(path, { ...NOTHING, ...known.value.get(path), ...values });
  }

  function hear(event: FollowEvent): void {
    if (event.kind === 'problem') set(event.path, { problem: event.error });
    else take(event);
  }

  /** A drag under way is not cut short: the version waits for its end. */
  function take(event: Version): void {
    const { path, source: stored, saved } = event;
    if (piece.inGesture()) {
      setTimeout(() => take(event), TRY_AGAIN_MS);
      return;
    }
    set(path, { problem: null });
    const { sha256, fileName, facts } = stored;
    const old = piece.sources.find((s) => s.follows === path && s.sha256 !== sha256);
    if (!old || (!saved && piece.wasUndone(sha256))) return; // what was undone does not come back by looking again
    const before = piece.facts.get(old.sha256);
    set(path, { at: new Date(), sha256, changes: before ? sourceChanges(before, facts) : [] });
    piece.learn(sha256, facts);
    piece.editFollowed(`${fileName} was saved`, (doc) => ({
      ...doc,
      sources: doc.sources.map((s) => (s.follows === path ? { ...s, sha256, fileName } : s)),
    }));
  }

  function follow(sourceId: string, path: string): void {
    piece.edit(`Follow ${path.split(/[\\/]/).pop()}`, (doc) => ({
      ...doc,
      sources: doc.sources.map((s) => (s.id === sourceId ? { ...s, follows: path } : s)),
    }));
  }

  function unfollow(sourceId: string): void {
    piece.edit('Stop following', (doc) => ({
      ...doc,
      sources: doc.sources.map(({ follows, ...s }) => (s.id === sourceId || !follows ? s : { ...s, follows })),
    }));
  }

  const of = (path: string): Followed => known.value.get(path) ?? NOTHING;

  /** What a person should see wherever they look on the Bench. */
  const notices = computed(() =>
    piece.sources.flatMap(({ id, fileName, follows }) => {
      if (!follows) return [];
      const { problem, changes } = of(follows);
      if (problem) return [{ id, path: follows, title: `${problem.message} The last good version stays.`, bad: true }];
      return changes.length > 0
        ? [{ id, path: follows, title: `${fileName} was saved: ${changes.join(' ')}`, bad: false }]
        : [];
    }),
  );
  const dismiss = (path: string) => set(path, { changes: [], problem: null });

  return { of, notices, dismiss, follow, unfollow };
});
