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
