import { ref } from 'vue';
import type { Engine } from '../../engine/engine';
import { underWayNotes } from '../../engine/under-way';

/** What is computed for so long is noted in the browser. */
const NOTED_AFTER_MS = 1500;
/** How often the share done is asked for. */
const PROGRESS_MS = 250;

/** How far what is computed in full is, and a note of it in the browser, should the tab end by it. */
export function useUnderWay(pieceId: () => string, engine: () => Engine | null) {
  const busy = ref(false);
  /** Share of what is computed in full, 0–1; only work that takes a while is shown. */
  const progress = ref(0);
  let asking: ReturnType<typeof setInterval> | undefined;
  let begunAt = 0;
  let lastNoted = '';

  function setBusy(value: boolean): void {
    busy.value = value;
    clearInterval(asking);
    progress.value = 0;
    if (value) asking = setInterval(ask, PROGRESS_MS);
    else underWayNotes.clear(pieceId());
    lastNoted = '';
    begunAt = performance.now();
  }

  function ask(): void {
    progress.value = engine()?.progress ?? 0;
    const now = engine()?.underWay;
    const noted = now ? `${pieceId()} ${now.id} ${now.print}` : '';
    if (!now || noted === lastNoted || performance.now() - begunAt < NOTED_AFTER_MS) return;
    underWayNotes.note(pieceId(), now);
    lastNoted = noted;
  }

  /** Nothing is computed any more: workers ended, or another piece came. */
  function stopAsking(): void {
    clearInterval(asking);
    busy.value = false;
  }

  // closed or left in order: then nothing was wrong with what was computed
  addEventListener('pagehide', () => underWayNotes.clear(pieceId()));

  return { busy, progress, setBusy, stopAsking };
}
