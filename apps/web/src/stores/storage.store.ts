import { STORAGE_NAMES, type Storage, type StorageFigures } from '@lithe-sieve/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import { ClipEngine } from '../engine/clip-engine';
import { useClipStore } from './clip.store';
import { useEngineStore } from './engine.store';
import { usePieceStore } from './piece.store';

/** Figures of one way to store the piece: by an encoder of ours, and by a plain one. */
export interface StorageRow {
  exact: StorageFigures;
  plain: StorageFigures;
}

/** What compression would do to the piece. Session state; computed when it is asked for, in full. */
export const useStorageStore = defineStore('storage', () => {
  const piece = usePieceStore();
  const engine = useEngineStore();
  const clip = useClipStore();
  const rows = shallowRef(new Map<Storage, StorageRow>());
  /** What the rows are of. */
  const of = ref('');
  /** Of the mask that the rows are of, in texels. */
  const size = shallowRef({ width: 1, height: 1 });
  const running = ref<Storage | null>(null);
  const progress = ref(0);
  const failure = ref<{ message: string; remedy: string } | null>(null);
  /** The way whose changed texels are marked on the Sheet. */
  const marked = ref<{ storage: Storage; by: keyof StorageRow } | null>(null);
  let clipEngine: ClipEngine | null = null;

  const now = computed(() => {
    const { material } = piece;
    const colour = engine.maps?.maps.find((m) => m.map === 'colour');
    if (!material || !colour || !engine.mask || !engine.maskIsFull || engine.busy || clip.busy) return '';
    return JSON.stringify([engine.mask.key, engine.maps!.key, material.cutoff, material.opacity, clip.settings]);
  });
  const current = computed(() => rows.value.size > 0 && of.value === now.value);

  /** Computes every way in turn; each shows as soon as it is there. */
  async function run(): Promise<void> {
    const colour = engine.levelsOf('colour')?.[0];
    const mask = clip.levels?.[0];
    const { material } = piece;
    if (!colour || !mask || !material || now.value === '') return;
    clipEngine ??= new ClipEngine({ made: () => undefined, failed: (error) => (failure.value = error) });
    const mine = clipEngine;
    const turn = mine.nextStorages();
    rows.value = new Map();
    failure.value = null;
    marked.value = null;
    of.value = now.value;
    size.value = { width: mask.width, height: mask.height };
    const asking = setInterval(() => (progress.value = mine.storageProgress), PROGRESS_MS);
    try {
      for (const storage of STORAGE_NAMES) {
        running.value = storage;
        const request = { colour: colour as StorageRequestColour, mask, clip: material, storage };
        const exact = await mine.storage(turn, { ...request, exact: true });
        const plain = exact && (await mine.storage(turn, { ...request, exact: false }));
        if (!exact || !plain) return;
        rows.value = new Map(rows.value).set(storage, { exact, plain });
      }
    } catch (error) {
      failure.value = { message: (error as Error).message, remedy: (error as { remedy?: string }).remedy ?? '' };
    } finally {
      clearInterval(asking);
      running.value = null;
      progress.value = 0;
    }
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
  }

  return {
    rows,
    size,
    current,
    running,
    progress,
    failure,
    marked,
    canRun: computed(() => now.value !== ''),
    run,
    cancel,
    reset,
  };
});

type StorageRequestColour = Parameters<ClipEngine['storage']>[1]['colour'];

const PROGRESS_MS = 200;
