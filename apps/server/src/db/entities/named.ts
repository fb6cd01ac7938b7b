import { EntitySchema } from 'typeorm';

/** Something kept by its name; what is held stands under `K`, as JSON. */
export type NamedRow<K extends string> = {
  id: string;
  name: string;
  /** Counts up: the order that they were kept in. */
  seq: number;
} & Record<K, string>;

function named<K extends string>(table: string, key: K): EntitySchema<NamedRow<K>> {
  return new EntitySchema<NamedRow<K>>({
    name: table,
    columns: {
      id: { type: 'text', primary: true },
      name: { type: 'text' },
      [key]: { type: 'text' },
      seq: { type: 'integer' },
    },
  });
}

/** Views of the Stand. */
export const StandView = named('stand_view', 'look');
/** Profiles of hand-offs. */
export const KeptProfile = named('kept_profile', 'profile');
/** What worked for one picture. */
export const KeptStart = named('kept_start', 'start');
