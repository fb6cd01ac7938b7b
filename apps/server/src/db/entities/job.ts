import { EntitySchema } from 'typeorm';

export interface JobRow {
  id: string;
  pieceId: string;
  state: 'waiting' | 'running' | 'done' | 'failed' | 'cancelled';
  /** JSON of the document and the request: all that is needed to begin again after a stop. */
  request: string;
  error: string | null;
  report: string | null;
  createdAt: string;
  /** Counts up: the order of hand-offs, whatever the clock says. */
  seq: number;
  /** How often it was begun. */
  tries: number;
}
export const JobEntity = new EntitySchema<JobRow>({
  name: 'job',
  columns: {
    id: { type: 'text', primary: true },
    pieceId: { type: 'text' },
    state: { type: 'text' },
    request: { type: 'text' },
    error: { type: 'text', nullable: true },
    report: { type: 'text', nullable: true },
    createdAt: { type: 'text' },
    seq: { type: 'integer', default: 0 },
    tries: { type: 'integer', default: 0 },
  },
  indices: [{ name: 'job_of_piece', columns: ['pieceId', 'seq'] }],
});
