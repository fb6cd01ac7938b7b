import { nextTick, watch, type Ref } from 'vue';

/**
 * By keys the focus goes into a popover that opens, to what is chosen there or else to the first thing, and back to its
 * button once it closes: its content stands at the end of the page, where Tab would come last.
 *
 * @param inside - Its content, while it is there.
 */
export function usePopoverFocus(
  open: Readonly<Ref<boolean>>,
  inside: Readonly<Ref<HTMLElement | null>>,
  button: Readonly<Ref<HTMLElement | null>>,
): void {
  watch(inside, async (content) => {
    if (!content) return;
    await nextTick();
    const first =
      content.querySelector<HTMLElement>('input[type=radio]:checked') ??
      content.querySelector<HTMLElement>('input, button');
    first?.focus({ preventScroll: true });
  });
  watch(open, (is) => {
    const { activeElement: now } = document;
    if (!is && (now === document.body || inside.value?.contains(now))) button.value?.focus();
  });
}
