import { defineStore } from 'pinia';
import { shallowRef, type App } from 'vue';

/** What a person must have seen: it stays, on every screen, until they put it away. */
export interface Notice {
  id: string;
  bad: boolean;
  text: string;
  remedy: string;
  /** A piece that can be opened from it. */
  link?: { pieceId: string; label: string };
}

/** Session state. A notice of the same id takes the place of the one before. */
export const useNoticesStore = defineStore('notices', () => {
  const all = shallowRef<Notice[]>([]);

  function tell(notice: Notice): void {
    all.value = [...all.value.filter((n) => n.id !== notice.id), notice];
  }

  function dismiss(id: string): void {
    all.value = all.value.filter((n) => n.id !== id);
  }

  return { all, tell, dismiss };
});

/** An error that nobody dealt with is seen all the same; it is also in the browser's console, with its place. */
export function sayWhatNobodyCaught(app: App): void {
  const say = (error: unknown) => {
    console.error(error);
    const { message, remedy } = error as { message?: string; remedy?: string };
    useNoticesStore().tell({
      id: `uncaught ${message}`,
      bad: true,
      text: `Something went wrong: ${message ?? String(error)}`,
      remedy: remedy || 'Everything saved so far is kept. Reload the page to continue.',
    });
  };
  app.config.errorHandler = say;
  window.addEventListener('unhandledrejection', ({ reason }) => {
    if ((reason as { name?: unknown } | null)?.name !== 'AbortError') say(reason);
  });
}
