import { createHash } from 'node:crypto';
import type { EntityManager } from 'typeorm';
import { BlobChunk } from './entities.ts';

export const CHUNK_BYTES = 1 << 20;

export function sha256Of(bytes: Uint8Array): string {
  return createHash('sha256').update(bytes).digest('hex');
}

/** Stores bytes under their hash; does nothing where they are already there. */
export async function writeBlob(manager: EntityManager, sha256: string, bytes: Uint8Array): Promise<void> {
  if (await manager.existsBy(BlobChunk, { sha256, idx: 0 })) return;
  for (let idx = 0, at = 0; at < bytes.length; idx++, at += CHUNK_BYTES) {
    const part = bytes.subarray(at, at + CHUNK_BYTES);
    const data = Buffer.from(part.buffer, part.byteOffset, part.byteLength);
    await manager.query('INSERT INTO blob_chunk (sha256, idx, data) VALUES (?, ?, ?)', [sha256, idx, data]);
  }
}

export async function readChunk(manager: EntityManager, sha256: string, idx: number): Promise<Buffer | null> {
  const rows: { data: Buffer }[] = await manager.query('SELECT data FROM blob_chunk WHERE sha256 = ? AND idx = ?', [
    sha256,
    idx,
  ]);
  return rows[0]?.data ?? null;
}

/** Reads a whole file into memory that worker threads may share. */
export async function readBlobShared(manager: EntityManager, sha256: string, length: number): Promise<Uint8Array> {
  const out = new Uint8Array(new SharedArrayBuffer(length));
  for (let idx = 0, at = 0; at < length; idx++) {
    const chunk = await readChunk(manager, sha256, idx);
    if (!chunk) throw new Error(`blob ${sha256} lacks chunk ${idx}`);
    out.set(chunk, at);
    at += chunk.length;
  }
  return out;
}

export async function dropBlob(manager: EntityManager, sha256: string): Promise<void> {
  await manager.delete(BlobChunk, { sha256 });
}
