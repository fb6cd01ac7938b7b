import { EntitySchema } from 'typeorm';

/** A profile of a hand-off, kept by its name. */
export interface KeptProfileRow {
  id: string;
  name: string;
  /** JSON. */
  profile: string;
  /** Counts up: the order that they were kept in. */
  seq: number;
}
export const KeptProfileEntity = new EntitySchema<KeptProfileRow>({
  name: 'kept_profile',
  columns: {
    id: { type: 'text', primary: true },
    name: { type: 'text' },
    profile: { type: 'text' },
    seq: { type: 'integer' },
  },
});
