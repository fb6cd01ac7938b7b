/** What is looked at of a change and its exact reverse. */
export interface ThinEntry {
  label: string;
  patches: { path: (string | number)[]; op: string; value?: unknown }[];
  inverse: { path: (string | number)[]; op: string; value?: unknown }[];
  /** Made by a file on disk that was saved, not by hand. */
  followed?: boolean | undefined;
}

/** Saves of a followed file that follow each other and can be undone one by one. */
export const FOLLOWED_KEPT = 10;

/**
 * Thins what a file that is saved again and again leaves in the history: of saves in a row, of the same file, only the
 * newest {@link FOLLOWED_KEPT} are kept one by one; the oldest two of one more become one, that goes back as far as both.
 * Page and server both do it after each change, so that their histories stay the same.
 *
 * @param newest - The newest entries, in order; at least one more than are kept, where there are so many.
 * @returns what takes the place of the two entries before the newest {@link FOLLOWED_KEPT} − 1; null where nothing does.
 */
export function thinFollowed<E extends ThinEntry>(newest: readonly E[]): E | null {
  const row = newest.slice(-FOLLOWED_KEPT - 1);
  if (row.length <= FOLLOWED_KEPT) return null;
  const places = placesOf(row[0]);
  if (places === null || row.some((entry) => !entry.followed || placesOf(entry) !== places)) return null;
  const [oldest, second] = row;
  return { ...second, inverse: oldest.inverse };
}

/** The places that an entry replaces; null where it does anything else, which cannot be joined. */
function placesOf({ patches, inverse }: ThinEntry): string | null {
  const all = [...patches, ...inverse];
  if (all.some((p) => p.op !== 'replace')) return null;
  return JSON.stringify([...new Set(all.map((p) => p.path.join('/')))].sort());
}
