import { makePicture, toPlainError } from '@lithe-sieve/core';
import { watch, type ShallowRef } from 'vue';
import { piecePicture } from '../../api/pieces.api';
import { sourceView } from '../../api/sources.api';
import { useBenchStore } from '../../stores/bench.store';
import { useNoticesStore } from '../../stores/notices.store';
import type { Stage } from './stage';

/** Brings the stage the picture of what is behind the card: a photograph, or another piece. */
export function useBehind(stage: ShallowRef<Stage | null>): void {
  const bench = useBenchStore();
  const notices = useNoticesStore();

  async function bring(): Promise<void> {
    const { behind } = bench;
    notices.dismiss(NOTICE);
    if (!stage.value || (behind.kind !== 'photograph' && behind.kind !== 'piece')) return;
    const [key, address] =
      behind.kind === 'photograph' ? [behind.sha256, sourceView(behind.sha256)] : [behind.id, piecePicture(behind.id)];
    try {
      const picture = await pixelsOf(address);
      if (bench.behind === behind) stage.value.setBehindPicture({ key, picture });
    } catch (error) {
      if (bench.behind !== behind) return;
      const { message } = toPlainError(error);
      notices.tell({
        id: NOTICE,
        bad: true,
        text: `${behind.name} cannot be shown behind the card. ${message}`,
        remedy: 'Sky and ground are shown. Choose it again, or something else, in the Light tray.',
        action: { label: 'Try again', run: () => void bring() },
      });
    }
  }
  watch([() => bench.behind, stage], bring, { immediate: true });
}

const NOTICE = 'behind the card';

/** @throws Error where there is no picture. */
async function pixelsOf(address: string) {
  const response = await fetch(address);
  if (!response.ok) throw new Error(response.status === 404 ? 'It is no longer there.' : `The server answered ${response.status}.`); // prettier-ignore
  const bitmap = await createImageBitmap(await response.blob());
  const { width, height } = bitmap;
  const context = new OffscreenCanvas(width, height).getContext('2d')!;
  context.drawImage(bitmap, 0, 0);
  bitmap.close();
  const { data } = context.getImageData(0, 0, width, height);
  return makePicture(width, height, new Uint8Array(data.buffer));
}
