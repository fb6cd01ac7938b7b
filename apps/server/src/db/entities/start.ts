import { EntitySchema } from 'typeorm';

/** What worked for one picture, kept by its name for the next. */
export interface KeptStartRow {
  id: string;
  name: string;
  /** JSON. */
  start: string;
  /** Counts up: the order that they were kept in. */
  seq: number;
}
export const KeptStartEntity = new EntitySchema<KeptStartRow>({
  name: 'kept_start',
  columns: {
    id: { type: 'text', primary: true },
    name: { type: 'text' },
    start: { type: 'text' },
    seq: { type: 'integer' },
  },
});
