import { colourMips, LEVEL_DEFAULTS, makeMask, makePicture, maskMips, tintOf } from '@lithe-sieve/core';
import { onScopeDispose, shallowReactive, watch } from 'vue';
import { lackOfBench } from '../../engine/capabilities';
import { receiverView } from '../../api/handoffs.api';
import { useClip, usePiece } from '../../stores/open-piece/open-piece';
import { theStage } from '../stage/stage';
import { pixelsOf } from './written-pixels';

/** Pixels of the picture of a card. */
const SIDE = 160;

/**
 * The card as each target shows it, drawn by the renderer of the Stand with the picture that the target ended up with: its
 * address by the place of the target in the report. One after the other, since software graphics take a while.
 *
 * @param wanted - Places in the report of a job whose cards are to be seen, in order.
 */
export function useReceiverCards(wanted: () => { job: string; places: readonly number[] } | null) {
  const piece = usePiece();
  const clip = useClip();
  const cards = shallowReactive(new Map<number, string>());
  let turn = 0;
  let of = '';
  onScopeDispose(() => turn++);

  async function draw(job: string, place: number): Promise<string | null> {
    const { surface } = clip;
    const { doc } = piece;
    if (!surface || !doc || lackOfBench()) return null;
    const { width, height, rgba } = await pixelsOf(await receiverView(job, place));
    const colour = makePicture(width, height, new Uint8Array(rgba));
    const mask = makeMask(
      width,
      height,
      Uint8Array.from({ length: width * height }, (_, i) => rgba[4 * i + 3]),
    );
    const { wrapAcross: across, wrapDown: down } = doc.levels ?? LEVEL_DEFAULTS;
    const { mode, doubleSided, emission } = doc.material;
    const picture = await theStage().cardOf(
      {
        colour: [colour, ...colourMips(colour)],
        mask: [mask, ...maskMips(mask)],
        surface,
        backTint: doc.sides ? tintOf(doc.sides) : null,
        wraps: { across, down },
        // what it shows is clipped already
        material: { mode: mode === 'blend' ? 'blend' : 'mask', cutoff: 0.5, opacity: 1, doubleSided, emission },
      },
      SIDE,
    );
    return picture && addressOf(picture.data);
  }

  watch(
    () => [wanted(), clip.surface] as const,
    async ([list, surface]) => {
      const mine = ++turn;
      if (!list || !surface) return;
      if (of !== list.job) cards.clear();
      of = list.job;
      for (const place of list.places) {
        if (cards.has(place)) continue;
        const address = await draw(list.job, place).catch(() => null); // the flat picture stays
        if (mine !== turn) return;
        if (address) cards.set(place, address);
      }
    },
    { immediate: true },
  );
  return cards;
}

function addressOf(data: Uint8ClampedArray<ArrayBuffer>): string {
  const canvas = Object.assign(document.createElement('canvas'), { width: SIDE, height: SIDE });
  canvas.getContext('2d')!.putImageData(new ImageData(data, SIDE), 0, 0);
  return canvas.toDataURL();
}
