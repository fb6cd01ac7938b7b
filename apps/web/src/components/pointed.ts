/** Listeners of what shows something while it is pointed at, by mouse or by the focus alike. */
export function whilePointed(begin: () => void, end: () => void) {
  return { onPointerenter: begin, onPointerleave: end, onFocus: begin, onBlur: end };
}
