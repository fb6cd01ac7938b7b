import { onScopeDispose, shallowReactive } from 'vue';

/** A key for one action. `key` is as `KeyboardEvent.key` says it; modifiers come before, as in `Ctrl+Shift+z`. */
export interface KeyAction {
  key: string;
  label: string;
  /** None: handled where it is used, and only listed here. */
  run?(): void;
  /** For an action that lasts while the key is held. */
  release?(): void;
  /** A second key for the same action, not listed apart. */
  also?: string;
}

export interface KeyGroup {
  title: string;
  actions: KeyAction[];
}

const groups = shallowReactive<KeyGroup[]>([]);

/** The longest list, and the least looked for. */
export const EVERYWHERE = 'Everywhere';

/** Keys while the calling component lives; listed by `?` in the order in which they came, those of every screen last. */
export function useKeys(title: string, actions: KeyAction[]): void {
  const group = { title, actions };
  groups.push(group);
  onScopeDispose(() => groups.splice(groups.indexOf(group), 1));
}

export function listedKeys(): readonly KeyGroup[] {
  return [...groups].sort((a, b) => Number(a.title === EVERYWHERE) - Number(b.title === EVERYWHERE));
}

export function nameOfKey(event: KeyboardEvent): string {
  const shifted = event.shiftKey && (event.key.length > 1 || event.ctrlKey || event.metaKey);
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  return `${event.ctrlKey || event.metaKey ? 'Ctrl+' : ''}${event.altKey ? 'Alt+' : ''}${shifted ? 'Shift+' : ''}${key}`;
}

/** The one listener on the window. Typing in a field, open dialogues, links and buttons keep their keys. */
export function startKeys(): () => void {
  const held = new Map<string, KeyAction>();
  const letGo = (code: string) => {
    held.get(code)?.release?.();
    held.delete(code);
  };
  const onUp = (event: KeyboardEvent) => letGo(event.code);
  const onBlur = () => [...held.keys()].forEach(letGo); // the key comes up elsewhere
  const onKey = (event: KeyboardEvent) => {
    if (event.defaultPrevented || isTyping(event.target, event)) return;
    const name = nameOfKey(event);
    for (const group of [...groups].reverse()) {
      const action = group.actions.find((a) => a.run && (a.key === name || a.also === name));
      if (!action?.run) continue;
      event.preventDefault();
      if (action.release && event.repeat) return;
      if (action.release) held.set(event.code, action);
      action.run();
      return;
    }
  };
  window.addEventListener('keydown', onKey);
  window.addEventListener('keyup', onUp);
  window.addEventListener('blur', onBlur);
  return () => {
    window.removeEventListener('keydown', onKey);
    window.removeEventListener('keyup', onUp);
    window.removeEventListener('blur', onBlur);
  };
}

/** What Enter and the space bar mean something to by themselves. */
const PRESSED = 'a[href], button, summary, select, [role=button], [role=slider], [role=combobox]';

function isTyping(target: EventTarget | null, event: KeyboardEvent): boolean {
  if (!(target instanceof HTMLElement)) return false;
  if (target.closest('.el-overlay, .el-popper') && event.key !== '?') return true;
  if ((event.key === 'Enter' || event.key === ' ') && target.closest(PRESSED)) return true; // it is pressed, or followed
  if (target instanceof HTMLInputElement && ['radio', 'checkbox'].includes(target.type))
    return event.key.startsWith('Arrow') || event.key === ' ';
  if (target instanceof HTMLInputElement && target.readOnly && target.ariaExpanded !== 'true')
    return event.key.startsWith('Arrow'); // a list to choose from that is closed
  if (event.altKey && !event.ctrlKey && event.key.length === 1) return false; // types nothing
  return target instanceof HTMLInputElement || target instanceof HTMLTextAreaElement || target.isContentEditable;
}
