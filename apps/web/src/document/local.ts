/**
 * Small things that the browser keeps between visits. Where it keeps nothing (blocked storage, a private window, no
 * room) they last as long as the page, and cost nothing else.
 */
export const local = {
  read(key: string): string | null {
    try {
      return localStorage.getItem(key);
    } catch {
      return null;
    }
  },

  write(key: string, value: string): void {
    try {
      localStorage.setItem(key, value);
    } catch {
      // it is as it was at the next visit
    }
  },

  remove(key: string): void {
    try {
      localStorage.removeItem(key);
    } catch {
      // there was nothing to remove
    }
  },

  /** All keys that begin so, in order. */
  keys(start: string): string[] {
    try {
      return Object.keys(localStorage)
        .filter((key) => key.startsWith(start))
        .sort();
    } catch {
      return [];
    }
  },

  /** What was written as JSON; null where nothing is, or something else. */
  readJson(key: string): unknown {
    try {
      return JSON.parse(localStorage.getItem(key) ?? 'null') as unknown;
    } catch {
      return null;
    }
  },
};
