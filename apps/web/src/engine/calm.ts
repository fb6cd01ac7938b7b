import { ref, watch, type Ref } from 'vue';

const PAUSE_MS = 100;

/**
 * Follows a value at most ten times a second, its last state always: for figures in words, which nobody reads faster
 * and which cost the page more to set than the picture costs to draw.
 */
export function calm<T>(value: () => T): Readonly<Ref<T>> {
  const shown = ref(value()) as Ref<T>;
  let pausing = false;
  watch(
    value,
    () => {
      if (pausing) return;
      shown.value = value();
      pausing = true;
      setTimeout(() => {
        pausing = false;
        shown.value = value();
      }, PAUSE_MS);
    },
    { flush: 'sync' },
  );
  return shown;
}
