import { defineStore } from 'pinia';
import { ref, watch } from 'vue';
import { local } from '../document/local';
import { useBenchStore } from './bench.store';
import { usePiece } from './open-piece/open-piece';

/** Pages of help beside the work. Session state. */
export const useHelpStore = defineStore('help', () => {
  const bench = useBenchStore();
  const piece = usePiece();
  const open = ref(false);
  /** Whether the first walk is under way, and whether it is still to be offered in this browser. */
  const walking = ref(false);
  const offersWalk = ref(local.read('walk') === null);
  /** The pages that were opened, the one that shows last; none: the list. */
  const trail = ref<string[]>([]);
  /** Counts up when a page is asked for: it takes the focus. One that follows what is selected leaves it where it is. */
  const asked = ref(0);

  function show(key: string | null): void {
    if (!key) trail.value = [];
    else if (trail.value.at(-1) !== key) trail.value = [...trail.value, key];
    open.value = true;
    asked.value++;
  }

  function back(): void {
    trail.value = trail.value.slice(0, -1);
    asked.value++;
  }
  const close = () => (open.value = false);

  function noWalk(): void {
    offersWalk.value = false;
    local.write('walk', 'offered');
  }

  function walk(): void {
    noWalk();
    close();
    walking.value = true;
  }

  const endWalk = () => (walking.value = false);

  /**
   * The page of what has the focus, else of what is selected on the screen. The same key again closes it.
   *
   * @param screen - Name of the route, which is that of its page.
   */
  function toggle(screen: string): void {
    const focused = document.activeElement?.closest<HTMLElement>('[data-help]')?.dataset['help'];
    const key = focused ?? keyOf(screen);
    if (open.value && trail.value.at(-1) === key) close();
    else show(key);
  }

  function keyOf(screen: string): string {
    if (screen !== 'bench') return `terms.md#${screen}`;
    const { selection } = bench;
    if (selection.kind === 'step') {
      const step = piece.run.find((s) => s.id === selection.id);
      return step ? `steps.md#${step.kind}` : 'terms.md#run';
    }
    if (selection.kind === 'source') {
      return piece.sources.find((s) => s.id === selection.id)?.recipe ? 'terms.md#recipe' : 'terms.md#source';
    }
    return `terms.md#${PAGES[selection.kind]}`;
  }

  // a page of what was selected makes way for that of what is
  let selected = keyOf('bench');
  watch(
    () => keyOf('bench'),
    (now) => {
      if (open.value && trail.value.at(-1) === selected) trail.value = [...trail.value, now];
      selected = now;
    },
  );

  return { open, trail, asked, show, back, close, toggle, walking, offersWalk, noWalk, walk, endWalk };
});

/** Of what can be selected beside steps and sources. */
const PAGES = {
  material: 'alpha-modes',
  card: 'card',
  levels: 'mip-level',
  breaks: 'breaks',
  storage: 'compression',
  light: 'light',
  view: 'view',
  start: 'proposal',
} as const;
