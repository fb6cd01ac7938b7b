import { EntitySchema } from 'typeorm';

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
