import { EntitySchema } from 'typeorm';

/** A folder on this machine's disk that is kept current with a piece. */
export interface OutputRow {
  pieceId: string;
  folder: string;
  /** JSON: what was last written there; null: nothing yet. */
  written: string | null;
  /** JSON: what is being put there, from when all of it lies beside under other names until all is renamed. */
  pending: string | null;
}
export const OutputEntity = new EntitySchema<OutputRow>({
  name: 'kept_output',
  columns: {
    pieceId: { type: 'text', primary: true },
    folder: { type: 'text' },
    written: { type: 'text', nullable: true },
    pending: { type: 'text', nullable: true },
  },
});
