/**
 * A handle over a view that is dragged: it takes the focus, and Escape takes it back to where it was.
 *
 * @param moved - With each place of the pointer, in CSS pixels of the window. @param done - Let go. @param back - Given up.
 */
export function dragHandle(
  event: PointerEvent,
  { moved, done, back }: { moved: (x: number, y: number) => void; done: () => void; back: () => void },
): void {
  const handle = event.currentTarget as SVGElement;
  handle.setPointerCapture(event.pointerId);
  handle.focus();
  const move = (e: PointerEvent) => moved(e.clientX, e.clientY);
  const heard = [['pointermove', move], ['pointerup', end], ['pointercancel', end]] as const; // prettier-ignore
  function end(e: Event): void {
    for (const [name, listener] of heard) handle.removeEventListener(name, listener as EventListener);
    window.removeEventListener('keydown', takeBack, true);
    if (e.type === 'pointerup') done();
    else back();
  }
  function takeBack(e: KeyboardEvent): void {
    if (e.key !== 'Escape') return;
    e.stopPropagation();
    handle.releasePointerCapture(event.pointerId);
    end(e);
  }
  window.addEventListener('keydown', takeBack, true);
  for (const [name, listener] of heard) handle.addEventListener(name, listener as EventListener);
}
