import { defineStore } from 'pinia';
import { shallowRef } from 'vue';

/** What a person must have seen: it stays, on every screen, until they put it away. */
export interface Notice {
  id: string;
  bad: boolean;
  text: string;
  remedy: string;
  /** A piece that can be opened from it. */
  link?: { pieceId: string; says: string };
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
