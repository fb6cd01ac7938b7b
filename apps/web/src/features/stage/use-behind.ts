import { makePicture, toPlainError, type Picture } from '@lithe-sieve/core';
import { watch, type ShallowRef } from 'vue';
import { fetchPiecePicture } from '../../api/pieces.api';
import { fetchSourceView } from '../../api/sources.api';
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
    const key = behind.kind === 'photograph' ? behind.sha256 : behind.id;
    try {
      const picture = await pixelsOf(
        await (behind.kind === 'photograph' ? fetchSourceView(key) : fetchPiecePicture(key)),
      );
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

async function pixelsOf(png: Blob): Promise<Picture> {
  const bitmap = await createImageBitmap(png);
  const { width, height } = bitmap;
  const context = new OffscreenCanvas(width, height).getContext('2d')!;
  context.drawImage(bitmap, 0, 0);
  bitmap.close();
  const { data } = context.getImageData(0, 0, width, height);
  return makePicture(width, height, new Uint8Array(data.buffer));
}
