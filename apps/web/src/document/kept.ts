import type { PendingEdit } from './save-queue';

/** A change that the server has not confirmed yet. */
export interface Kept {
  /** Counts up in the order in which changes were made, in all pages of this browser. */
  order?: number;
  pieceId: string;
  /** The page that made it. */
  session: string;
  /** The revision that it was made on, as far as the page knew. */
  base: number;
  edit: PendingEdit & { editId: string };
}
