import { nextTick, watch, type Ref } from 'vue';

/**
 * Keeps the focus where it was while buttons of a place come and go: on the place itself, from which the next Tab reaches
 * what is there now.
 *
 * @param button - Selector of what has the focus instead; null: the place.
 */
export function useFocusInside(place: Readonly<Ref<HTMLElement | null>>, button: () => string | null): void {
  watch(button, async (now) => {
    const inside = place.value?.contains(document.activeElement);
    await nextTick();
    if (!inside) return;
    const wanted = now && place.value?.querySelector<HTMLElement>(now);
    (wanted || place.value)?.focus();
  });
}
