import { EntitySchema } from 'typeorm';

/** A piece of a stored file; files are addressed by the SHA-256 of their bytes. */
export interface BlobChunkRow {
  sha256: string;
  idx: number;
  data: Buffer;
}
export const BlobChunk = new EntitySchema<BlobChunkRow>({
  name: 'blob_chunk',
  columns: {
    sha256: { type: 'text', primary: true },
    idx: { type: 'integer', primary: true },
    data: { type: 'blob', select: false },
  },
});

/** A source file that was decoded once without fault. */
export interface SourceFileRow {
  sha256: string;
  bytes: number;
  /** JSON of core's SourceFacts. */
  facts: string;
  proxyWidth: number;
  proxyHeight: number;
  proxy: Buffer;
  /** The proxy shrunk as values, then its samples, deflated; null in rows from before these were made. */
  proxyMore: Buffer | null;
  createdAt: string;
  /** 1: a version of a file on disk that was followed. */
  followed: number;
  /** When it was first found that no document, history or hand-off names it. */
  unnamedSince: string | null;
}
export const SourceFile = new EntitySchema<SourceFileRow>({
  name: 'source_file',
  columns: {
    sha256: { type: 'text', primary: true },
    bytes: { type: 'integer' },
    facts: { type: 'text' },
    proxyWidth: { type: 'integer' },
    proxyHeight: { type: 'integer' },
    proxy: { type: 'blob', select: false },
    proxyMore: { type: 'blob', nullable: true, select: false },
    createdAt: { type: 'text' },
    followed: { type: 'integer', default: 0 },
    unnamedSince: { type: 'text', nullable: true },
  },
});

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

/** Something done by hand; never changed. */
export interface StrokeRow {
  id: string;
  /** The piece that it was drawn in. */
  pieceId: string;
  /** JSON of core's Stroke. */
  data: string;
}
export const StrokeEntity = new EntitySchema<StrokeRow>({
  name: 'stroke',
  columns: {
    id: { type: 'text', primary: true },
    pieceId: { type: 'text' },
    data: { type: 'text' },
  },
  indices: [{ name: 'stroke_of_piece', columns: ['pieceId'] }],
});

/** A folder on disk whose files may be followed. */
export interface AllowedFolderRow {
  path: string;
}
export const AllowedFolder = new EntitySchema<AllowedFolderRow>({
  name: 'allowed_folder',
  columns: { path: { type: 'text', primary: true } },
});

export const ENTITIES = [BlobChunk, SourceFile, PieceEntity, History, JobEntity, AllowedFolder, StrokeEntity];
