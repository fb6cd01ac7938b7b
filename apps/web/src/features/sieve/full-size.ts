import { VIEW_SIDE } from '@lithe-sieve/contract';
import { coverageAt, thresholdByte, type Picture } from '@lithe-sieve/core';
import { onBeforeUnmount, watch } from 'vue';
import { sendFullSize } from '../../api/pieces.api';
import { useClip, useEngine, usePiece } from '../../stores/open-piece/open-piece';
import { useSavingStore } from '../../stores/saving.store';

/** Share of what is kept from which a level does not look like it. */
const FAR_OFF = 0.25;
/** A drag of the cutoff is many results; the last one is sent. */
const PAUSE_MS = 1200;

/**
 * What the full size of a saved piece comes to goes to the server, so that the Stock shows the figures of the Bench, and the
 * piece opens with its picture.
 */
export function useFullSizeReport(): void {
  const engine = useEngine();
  const clip = useClip();
  const piece = usePiece();
  const saving = useSavingStore();
  let timer: ReturnType<typeof setTimeout> | undefined;
  let sent = '';

  /** @param withView - Not where the engine ends before it could be made. */
  async function send(withView: boolean): Promise<void> {
    const { material, id } = piece;
    if (!engine.isWhole) return; // it is the share of what is handed off
    if (piece.glancing || piece.inGesture()) return; // it is none of the piece, or not yet
    const counts = engine.maskIsFull && !engine.busy ? engine.mask?.summary.levels[0].counts : undefined;
    if (!counts || !material || !id || saving.state.kind !== 'saved') return;
    if (clip.busy) return;
    const threshold = thresholdByte(material.cutoff, material.opacity);
    const body = {
      revision: piece.revision(),
      coverage: coverageAt(counts, threshold),
      ...(engine.size ? { size: engine.size } : {}),
      snags: clip.snags.map((s) => s.text),
    };
    const what = JSON.stringify([id, body]);
    if (what === sent) return;
    sent = what;
    try {
      const png = withView ? await viewPng(threshold) : null;
      await sendFullSize(id, { ...body, ...(png && { view: base64Of(png) }) });
    } catch {
      sent = ''; // the Stock shows its own estimate meanwhile
    }
  }

  /** Thin parts that are clipped vanish in averages, or close up: there single texels show what is kept. */
  async function viewPng(threshold: number): Promise<Uint8Array | null> {
    const { levels: masks, summary } = engine.mask!;
    const colours = engine.levelsOf('colour') as readonly Picture[] | undefined;
    const at = masks.findIndex((l) => Math.max(l.width, l.height) <= VIEW_SIDE);
    if (!colours || colours[0].width !== masks[0].width) return null;
    const [whole, small] = [0, at].map((i) => coverageAt(summary.levels[i].counts, threshold));
    const alone = Math.abs(small - whole) > FAR_OFF * whole;
    return engine.engine().viewFile(colours[at], masks[alone ? 0 : at], alone ? at : 0);
  }

  watch(
    () => [engine.mask, engine.busy, clip.snags, clip.busy, saving.state.kind, piece.material],
    () => {
      clearTimeout(timer);
      timer = setTimeout(() => void send(true), PAUSE_MS);
    },
    { immediate: true },
  );
  onBeforeUnmount(() => {
    clearTimeout(timer);
    void send(false);
  });
}

function base64Of(bytes: Uint8Array): string {
  let text = '';
  for (let i = 0; i < bytes.length; i += 0x8000) text += String.fromCharCode(...bytes.subarray(i, i + 0x8000));
  return btoa(text);
}
