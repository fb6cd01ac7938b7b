import { EntitySchema } from 'typeorm';

/** A view of the Stand, kept by its name. */
export interface StandViewRow {
  id: string;
  name: string;
  /** JSON. */
  look: string;
  /** Counts up: the order that they were kept in. */
  seq: number;
}
export const StandView = new EntitySchema<StandViewRow>({
  name: 'stand_view',
  columns: {
    id: { type: 'text', primary: true },
    name: { type: 'text' },
    look: { type: 'text' },
    seq: { type: 'integer' },
  },
});
