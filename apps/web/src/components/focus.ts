import { nextTick } from 'vue';

async function focus(selector: string): Promise<void> {
  await nextTick();
  document.querySelector<HTMLElement>(selector)?.focus();
}

/** The tray of what is selected: the next Tab reaches its first setting, and keys of the Bench go on working. */
export const focusSettings = () => focus('#settings');

/** The tile of what is selected. */
export const focusTile = () => focus('.run .tile.on .face, .run button.tile.on');
