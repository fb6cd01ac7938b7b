import { EntitySchema } from 'typeorm';

export interface PieceRow {
  id: string;
  /** Counts every change, undo and redo too. */
  revision: number;
  /** How many history entries, from `historyStart`, are done. */
  position: number;
  /** JSON of core's PieceDoc. */
  doc: string;
  createdAt: string;
  updatedAt: string;
  deletedAt: string | null;
  handedOffAt: string | null;
  /** Ids of the newest changes, as JSON: one that is sent twice is taken once. */
  lastEdits: string | null;
  /** As of `summaryRevision`: JSON of coverage and snags, the picture for the Stock, and colour with alpha for the Bench. */
  summaryRevision: number | null;
  summary: string | null;
  picture: Buffer | null;
  view: Buffer | null;
  /** The revision whose picture and view a page made at full size. */
  viewRevision: number | null;
  /** What the full size came to, see features/pieces/full-size.ts. */
  fullSize: string | null;
  /** Counts over the whole studio: one more with each change of any piece. The order of the Stock. */
  changeSeq: number;
  /** Copied from the document, so that the Stock is listed without reading it. */
  name: string;
  mode: string;
  steps: number;
  /** Texels of the first source. */
  width: number;
  height: number;
}
export const PieceEntity = new EntitySchema<PieceRow>({
  name: 'piece',
  columns: {
    id: { type: 'text', primary: true },
    revision: { type: 'integer' },
    position: { type: 'integer' },
    doc: { type: 'text' },
    createdAt: { type: 'text' },
    updatedAt: { type: 'text' },
    deletedAt: { type: 'text', nullable: true },
    handedOffAt: { type: 'text', nullable: true },
    lastEdits: { type: 'text', nullable: true },
    summaryRevision: { type: 'integer', nullable: true },
    summary: { type: 'text', nullable: true },
    picture: { type: 'blob', nullable: true, select: false },
    view: { type: 'blob', nullable: true, select: false },
    viewRevision: { type: 'integer', nullable: true },
    fullSize: { type: 'text', nullable: true },
    changeSeq: { type: 'integer', default: 0 },
    name: { type: 'text', default: '' },
    mode: { type: 'text', default: 'mask' },
    steps: { type: 'integer', default: 0 },
    width: { type: 'integer', default: 0 },
    height: { type: 'integer', default: 0 },
  },
  indices: [{ name: 'piece_in_order', columns: ['changeSeq'] }],
});

export interface HistoryRow {
  pieceId: string;
  /** From 1, in order; one that was joined with the next leaves a gap. */
  seq: number;
  label: string;
  patches: string;
  inverse: string;
  /** 1: made by a followed file that was saved. */
  followed: number;
}
export const History = new EntitySchema<HistoryRow>({
  name: 'history_entry',
  columns: {
    pieceId: { type: 'text', primary: true },
    seq: { type: 'integer', primary: true },
    label: { type: 'text' },
    patches: { type: 'text' },
    inverse: { type: 'text' },
    followed: { type: 'integer', default: 0 },
  },
});
