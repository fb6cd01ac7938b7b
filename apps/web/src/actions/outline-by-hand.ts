import { toPlainError, type CornerChange } from '@lithe-sieve/core';
import { useNoticesStore } from '../stores/notices.store';
import { useClip } from '../stores/open-piece/open-piece';
import { useCardActions } from './card-actions';

const WORDS: Record<CornerChange['do'], string> = {
  move: 'a corner moved',
  add: 'a corner more',
  remove: 'a corner fewer',
};

/** Changes of single corners of the outline that a card is cut to. */
export function useOutlineByHand() {
  const clip = useClip();
  const notices = useNoticesStore();
  const { setOutline } = useCardActions();

  /** @returns false where it may not be. */
  async function change(of: CornerChange): Promise<boolean> {
    try {
      const changed = await clip.outlineChanged(of);
      if (changed) setOutline(changed, WORDS[of.do]);
      return changed !== null;
    } catch (error) {
      const { message, remedy } = toPlainError(error);
      notices.tell({ id: 'outline', bad: true, text: message, remedy });
      return false;
    }
  }

  return { change };
}
