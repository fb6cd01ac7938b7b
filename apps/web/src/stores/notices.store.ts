import { defineStore } from 'pinia';
import { shallowRef, type App } from 'vue';
import { answering } from '../api/answering';

/** What a person must have seen: it stays, on every screen, until they put it away. */
export interface Notice {
  id: string;
  bad: boolean;
  text: string;
  remedy: string;
  /** The piece that it is about, where it says “this piece”: it is not shown over another one. */
  about?: { pieceId: string; name: string };
  /** A piece that can be opened from it. */
  link?: { pieceId: string; label: string };
  /** Something that can be done about it; the notice goes with it. */
  action?: { label: string; run: () => void };
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

/** A server that does not answer is said on every screen until it does. */
export function sayWhenTheServerIsSilent(): void {
  answering.whenChanged((silent) => {
    const notices = useNoticesStore();
    if (!silent) return notices.dismiss('silent server');
    notices.tell({
      id: 'silent server',
      bad: true,
      text: 'The server does not answer.',
      remedy: 'What you do is kept in this browser and sent when it answers again. Is it still running?',
    });
  });
}

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
