import { STORAGE_NAMES, type Picture, type Storage, type StorageFigures, type StoredLevels } from '@lithe-sieve/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import { ClipEngine } from '../engine/clip-engine';
import { useClip, useEngine, usePiece } from './open-piece/open-piece';

/** Figures of one way to store the piece: by an encoder of ours, and by a plain one. */
export interface StorageRow {
  exact: StorageFigures;
  plain: StorageFigures;
}

/** What compression would do to the piece. Session state; computed when it is asked for, in full. */
export const useStorageStore = defineStore('storage', () => {
  const piece = usePiece();
  const engine = useEngine();
  const clip = useClip();
  const rows = shallowRef(new Map<Storage, StorageRow>());
  /** What the rows are of. */
  const of = ref('');
  /** Size of the mask that the rows describe, in texels. */
  const size = shallowRef({ width: 1, height: 1 });
  const running = ref<Storage | null>(null);
  const progress = ref(0);
  const failure = ref<{ message: string; remedy: string } | null>(null);
  /** The way whose changed texels are marked on the Sheet. */
  const marked = ref<{ storage: Storage; by: keyof StorageRow } | null>(null);
  /** The way whose texels Sheet and Stand show instead of the piece's own, and these. */
  const shown = ref<{ storage: Storage; by: keyof StorageRow } | null>(null);
  const preview = shallowRef<StoredLevels | null>(null);
  let clipEngine: ClipEngine | null = null;

  /** Effort of the hand-off: what is shown is what the file will hold. */
  const effort = computed(() => piece.doc?.handOff.effort);
  const now = computed(() => {
    const { material } = piece;
    const colour = engine.maps?.maps.find((m) => m.map === 'colour');
    if (!material || !colour || !engine.mask || !engine.maskIsFull || engine.busy || clip.busy) return '';
    const { cutoff, opacity } = material;
    return JSON.stringify([engine.mask.key, engine.maps!.key, cutoff, opacity, effort.value, clip.settings]);
  });
  const current = computed(() => rows.value.size > 0 && of.value === now.value);

  /** Computes every way in turn; each shows as soon as it is there. */
  async function run(): Promise<void> {
    const colour = engine.levelsOf('colour')?.[0];
    const mask = clip.levels?.[0];
    const { material } = piece;
    if (!colour || !mask || !material || now.value === '') return;
    const mine = engineOf();
    const turn = mine.nextStorages();
    rows.value = new Map();
    failure.value = null;
    marked.value = null;
    of.value = now.value;
    size.value = { width: mask.width, height: mask.height };
    try {
      for (const storage of STORAGE_NAMES) {
        const request = { colour: colour as StorageRequestColour, mask, clip: material, storage, effort: effort.value };
        let row: StorageRow | null = null;
        await whileRunning(mine, storage, async () => {
          const exact = await mine.storage(turn, { ...request, exact: true });
          const plain = exact && (await mine.storage(turn, { ...request, exact: false }));
          row = exact && plain && { exact, plain };
        });
        if (!row) return;
        rows.value = new Map(rows.value).set(storage, row);
      }
    } catch (error) {
      fail(mine, error);
    }
  }

  /** Shows what a way to store the piece leaves of it, on every level; the same again ends it. */
  async function show(storage: Storage, by: keyof StorageRow): Promise<void> {
    const same = shown.value?.storage === storage && shown.value.by === by;
    endPreview();
    const colours = engine.levelsOf('colour') as Picture[] | undefined;
    const { levels: masks } = clip;
    const { material } = piece;
    if (same || !colours || !masks || !material || now.value === '') return;
    const mine = engineOf();
    const mineNow = now.value;
    failure.value = null;
    shown.value = { storage, by };
    const how = { clip: material, storage, exact: by === 'exact', effort: effort.value };
    const asked = { colours: [...colours], masks: [...masks], ...how };
    try {
      await whileRunning(mine, storage, async () => {
        const read = await mine.stored(mine.nextStorages(), asked);
        if (read && mineNow === now.value && shown.value?.storage === storage && shown.value.by === by) {
          preview.value = read;
        }
      });
    } catch (error) {
      fail(mine, error);
    }
    if (!preview.value) endPreview();
  }

  /** A worker that was ended because the piece was left is no failure of the next one. */
  function fail(mine: ClipEngine, error: unknown): void {
    if (mine !== clipEngine) return;
    failure.value = { message: (error as Error).message, remedy: (error as { remedy?: string }).remedy ?? '' };
  }

  function endPreview(): void {
    if (shown.value && !preview.value) cancel(); // nobody waits for it any more
    shown.value = null;
    preview.value = null;
  }
  watch(now, endPreview); // it is out of date

  async function whileRunning(mine: ClipEngine, storage: Storage, work: () => Promise<void>): Promise<void> {
    const asking = setInterval(() => (progress.value = mine.storageProgress), PROGRESS_MS);
    running.value = storage;
    try {
      await work();
    } finally {
      clearInterval(asking);
      running.value = null;
      progress.value = 0;
    }
  }

  function engineOf(): ClipEngine {
    clipEngine ??= new ClipEngine({ made: () => undefined, failed: (error) => (failure.value = error) });
    return clipEngine;
  }

  function cancel(): void {
    clipEngine?.nextStorages();
  }

  function reset(): void {
    clipEngine?.stop();
    clipEngine = null;
    rows.value = new Map();
    running.value = null;
    failure.value = null;
    marked.value = null;
    endPreview();
  }

  return {
    rows,
    size,
    current,
    running,
    progress,
    failure,
    marked,
    shown,
    preview,
    show,
    endPreview,
    canRun: computed(() => now.value !== ''),
    run,
    cancel,
    reset,
  };
});

type StorageRequestColour = Parameters<ClipEngine['storage']>[1]['colour'];

const PROGRESS_MS = 200;
