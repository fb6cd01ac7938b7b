import type { FollowEvent } from '@lithe-sieve/contract';
import { laidOnMesh, meshChanges, sourceChanges } from '@lithe-sieve/core';
import { defineStore } from 'pinia';
import { computed, shallowRef, watch } from 'vue';
import { followFiles } from '../api/follow.api';
import { useClip, usePiece } from './open-piece/open-piece';

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

type Version = Exclude<FollowEvent, { kind: 'problem' }>;
type OfPicture = Extract<FollowEvent, { kind: 'version' }>;
type OfMesh = Extract<FollowEvent, { kind: 'mesh' }>;

const NOTHING: Followed = { at: null, sha256: '', changes: [], problem: null };
const TRY_AGAIN_MS = 100;

/** The files on disk that sources and the mesh of the open piece follow: every save becomes one undoable change. Session state. */
export const useFollowStore = defineStore('follow', () => {
  const piece = usePiece();
  const clip = useClip();
  const known = shallowRef(new Map<string, Followed>());
  /** Who follows a file, and which version of it they have. */
  const followers = computed(() => [...piece.sources, ...(piece.doc?.mesh ? [piece.doc.mesh] : [])]);
  const paths = computed(() => [...new Set(followers.value.flatMap((s) => s.follows ?? []))].sort());

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
    if (piece.inGesture()) {
      setTimeout(() => take(event), TRY_AGAIN_MS);
      return;
    }
    set(event.path, { problem: null });
    if (event.kind === 'mesh') takeMesh(event);
    else takePicture(event);
  }

  /** What was undone does not come back by looking again. */
  const isUndone = (saved: boolean, sha256: string) => !saved && piece.wasUndone(sha256);

  function takePicture({ path, source: stored, saved }: OfPicture): void {
    const { sha256, fileName, facts } = stored;
    const old = piece.sources.find((s) => s.follows === path && s.sha256 !== sha256);
    if (!old || isUndone(saved, sha256)) return;
    const before = piece.facts.get(old.sha256);
    set(path, { at: new Date(), sha256, changes: before ? sourceChanges(before, facts) : [] });
    piece.learn(sha256, facts);
    piece.editFollowed(`${fileName} was saved`, (doc) => ({
      ...doc,
      sources: doc.sources.map((s) => (s.follows === path ? { ...s, sha256, fileName } : s)),
    }));
  }

  function takeMesh({ path, mesh: { sha256, fileName, facts }, saved }: OfMesh): void {
    const old = piece.doc?.mesh;
    if (old?.follows !== path || old.sha256 === sha256 || isUndone(saved, sha256)) return;
    const before = clip.mesh?.sha256 === old.sha256 ? clip.mesh.facts : null;
    set(path, { at: new Date(), sha256, changes: before ? meshChanges(before, facts, old.slot) : [] });
    piece.editFollowed(`${fileName} was saved`, (doc) => laidOnMesh(doc, { ...old, sha256, fileName }, facts.size));
  }

  function followMesh(path: string): void {
    piece.edit(`Follow ${path.split(/[\\/]/).pop()}`, (doc) =>
      doc.mesh ? { ...doc, mesh: { ...doc.mesh, follows: path } } : doc,
    );
  }

  function unfollowMesh(): void {
    piece.edit('Stop following', (doc) => (doc.mesh ? { ...doc, mesh: { ...doc.mesh, follows: undefined } } : doc));
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
    paths.value.flatMap((path) => {
      const { fileName } = followers.value.find((f) => f.follows === path)!;
      const { problem, changes } = of(path);
      if (problem) return [{ path, title: `${problem.message} The last good version stays.`, bad: true }];
      return changes.length > 0 ? [{ path, title: `${fileName} was saved: ${changes.join(' ')}`, bad: false }] : [];
    }),
  );
  const dismiss = (path: string) => set(path, { changes: [], problem: null });

  return { of, notices, dismiss, follow, unfollow, followMesh, unfollowMesh };
});
