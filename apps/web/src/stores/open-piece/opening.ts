import { computed, ref, shallowRef, type ShallowRef } from 'vue';
import { firstPictureOf, type FirstPicture } from '../../engine/first-picture';
import { usePostersStore } from '../posters.store';

/** The first picture is waited for so long. */
const FIRST_MS = 700;

/**
 * What a piece shows from the press on its card until something is computed: the Stock's picture, then what the server keeps
 * of it at view size.
 *
 * @param piece - Its id is empty until it is open.
 * @param mask - Of the first result, from when on nothing of this is shown.
 */
export function useOpening(piece: { readonly id: string }, mask: Readonly<ShallowRef<unknown>>) {
  /** Shown until anything is computed. */
  const first = shallowRef<FirstPicture | null>(null);
  const expected = ref('');
  /** The piece that is open, or is being opened. */
  const opened = computed(() => piece.id || expected.value);
  /** The Stock's picture of the piece, where it was opened from there. */
  const poster = computed(() => usePostersStore().of(opened.value));
  const coming = new Map<string, Promise<FirstPicture | null>>();
  /** Ends what waits until the first picture is seen. */
  let seen: () => void = () => undefined;

  /** A piece is being opened: what the server keeps of it is fetched beside its document. */
  function expect(id: string): void {
    expected.value = id;
    if (piece.id === id) return;
    coming.clear();
    coming.set(
      id,
      firstPictureOf(id).catch(() => null),
    );
  }

  /** Shows what the server keeps, once it is there. */
  async function firstOf(id: string): Promise<void> {
    const found = await coming.get(id);
    if (found && piece.id === id && !mask.value) first.value = found;
  }

  /** Workers that start take both cores from what draws: they begin once it is seen on both views, or soon after. */
  async function firstSeen(id: string): Promise<void> {
    const asked = coming.get(id);
    if (!asked || mask.value) return;
    const late = new Promise((resolve) => setTimeout(resolve, FIRST_MS));
    const drawn = new Promise<void>((resolve) => (seen = resolve));
    await Promise.race([late, asked.then((found) => found && drawn)]);
  }

  return {
    first,
    poster,
    opened,
    expect,
    firstOf,
    firstSeen,
    drawn: () => seen(),
    forget: () => (expected.value = ''),
  };
}
