const SHOWN_MS = 5000;
let last: HTMLElement | null = null;

/** Says something of a field right under it, for a moment: what was typed into it was not taken as it was. */
export function sayAt(field: Element, text: string): void {
  last?.remove();
  const { left, bottom } = field.getBoundingClientRect();
  const note = document.createElement('p');
  note.className = 'said-at';
  note.setAttribute('role', 'status');
  note.textContent = text;
  document.body.append(note);
  const room = window.innerWidth - note.offsetWidth - 8;
  Object.assign(note.style, { left: `${Math.max(8, Math.min(left, room))}px`, top: `${bottom + 4}px` });
  last = note;
  setTimeout(() => note.remove(), SHOWN_MS);
}
