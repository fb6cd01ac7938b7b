import { coverageAt, thresholdByte } from '@lithe-sieve/core';
import { onBeforeUnmount, watch } from 'vue';
import { sendFullSize } from '../../api/pieces.api';
import { useEngineStore } from '../../stores/engine.store';
import { usePieceStore } from '../../stores/piece.store';
import { useSavingStore } from '../../stores/saving.store';

/** A drag of the cutoff is many results; the last one is sent. */
const PAUSE_MS = 1200;

/** What the full size of a saved piece keeps goes to the server, so that the Stock shows the same figure as the Bench. */
export function useFullSizeReport(): void {
  const engine = useEngineStore();
  const piece = usePieceStore();
  const saving = useSavingStore();
  let timer: ReturnType<typeof setTimeout> | undefined;
  let sent = '';

  function send(): void {
    const { material, id } = piece;
    if (!engine.isWhole) return; // it is the share of what is handed off
    const counts = engine.maskIsFull && !engine.busy ? engine.mask?.summary.levels[0].counts : undefined;
    if (!counts || !material || !id || saving.state.kind !== 'saved') return;
    const coverage = coverageAt(counts, thresholdByte(material.cutoff, material.opacity));
    const body = { revision: piece.revision(), coverage, ...(engine.size ? { size: engine.size } : {}) };
    const what = JSON.stringify([id, body]);
    if (what === sent) return;
    sent = what;
    void sendFullSize(id, body).catch(() => (sent = '')); // the Stock shows its own estimate meanwhile
  }

  watch(
    () => [engine.mask, engine.busy, saving.state.kind, piece.material],
    () => {
      clearTimeout(timer);
      timer = setTimeout(send, PAUSE_MS);
    },
    { immediate: true },
  );
  onBeforeUnmount(() => {
    clearTimeout(timer);
    send();
  });
}
