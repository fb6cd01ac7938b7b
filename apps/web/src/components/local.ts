/**
 * Small settings that the browser keeps between visits. Where it keeps nothing (blocked storage, a private window, no
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
};
