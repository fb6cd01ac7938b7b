import { createHash } from 'node:crypto';
import type { EntityManager } from 'typeorm';
import type { Database } from './database.ts';
import { BlobChunk } from './entities/blob.ts';

export const CHUNK_BYTES = 1 << 20;

/** Files up to this are read once, checked, and given out from memory; larger ones are read twice. */
const WHOLE_BYTES = 64 * CHUNK_BYTES;

/** Stored bytes that are not those that were stored. */
export class DamagedFileError extends Error {
  override readonly name = 'DamagedFileError';
  readonly code = 'damaged-file';
  readonly remedy =
    'Bring the same file in again: it replaces the damaged bytes. Otherwise restore the studio from a backup.';

  /** @param fileName - As a person knows it; where only its hash is known, the beginning of that is said. */
  constructor(
    readonly sha256: string,
    fileName = `with SHA-256 ${sha256.slice(0, 12)}…`,
  ) {
    super(`The stored file ${fileName} is damaged: its bytes have changed since it was brought in.`);
  }
}

export function sha256Of(bytes: Uint8Array): string {
  return createHash('sha256').update(bytes).digest('hex');
}

/** Stores bytes under their hash; does nothing where they are already there, and repairs what is damaged. */
export async function writeBlob(manager: EntityManager, sha256: string, bytes: Uint8Array): Promise<void> {
  if (await isStored(manager, sha256, bytes)) return;
  await dropBlob(manager, sha256);
  for (let idx = 0, at = 0; at < bytes.length; idx++, at += CHUNK_BYTES) {
    const part = bytes.subarray(at, at + CHUNK_BYTES);
    const data = Buffer.from(part.buffer, part.byteOffset, part.byteLength);
    await manager.query('INSERT INTO blob_chunk (sha256, idx, data) VALUES (?, ?, ?)', [sha256, idx, data]);
  }
}

/** Whether exactly these bytes are there. */
export async function isStored(manager: EntityManager, sha256: string, bytes: Uint8Array): Promise<boolean> {
  let at = 0;
  for (let idx = 0; ; idx++) {
    const chunk = await readChunk(manager, sha256, idx);
    if (!chunk) return at === bytes.length && idx > 0;
    if (chunk.compare(bytes, at, Math.min(at + chunk.length, bytes.length)) !== 0) return false;
    at += chunk.length;
  }
}

async function readChunk(manager: EntityManager, sha256: string, idx: number): Promise<Buffer | null> {
  const rows: { data: Buffer }[] = await manager.query('SELECT data FROM blob_chunk WHERE sha256 = ? AND idx = ?', [
    sha256,
    idx,
  ]);
  return rows[0]?.data ?? null;
}

/**
 * Reads a whole file into memory that worker threads may share.
 *
 * @throws DamagedFileError
 */
export async function readBlobShared(manager: EntityManager, sha256: string, length: number): Promise<Uint8Array> {
  const out = new Uint8Array(new SharedArrayBuffer(length));
  let at = 0;
  for (let idx = 0; at < length; idx++) {
    const chunk = await readChunk(manager, sha256, idx);
    if (!chunk || at + chunk.length > length) throw new DamagedFileError(sha256);
    out.set(chunk, at);
    at += chunk.length;
  }
  if (sha256Of(out) !== sha256) throw new DamagedFileError(sha256);
  return out;
}

/**
 * A stored file for sending: checked against its hash before the first byte is given out.
 *
 * @returns null where there is none.
 * @throws DamagedFileError
 */
export async function openBlob(
  db: Database,
  sha256: string,
): Promise<{ length: number; chunks: AsyncIterable<Buffer> | Iterable<Buffer> } | null> {
  const hash = createHash('sha256');
  const held: Buffer[] = [];
  let length = 0;
  for await (const chunk of chunksOf(db, sha256)) {
    hash.update(chunk);
    length += chunk.length;
    if (length <= WHOLE_BYTES) held.push(chunk);
    else held.length = 0;
  }
  if (length === 0) return null;
  if (hash.digest('hex') !== sha256) throw new DamagedFileError(sha256);
  return { length, chunks: length <= WHOLE_BYTES ? held : chunksOf(db, sha256) };
}

async function* chunksOf(db: Database, sha256: string): AsyncGenerator<Buffer> {
  for (let idx = 0; ; idx++) {
    const chunk = await db.read((m) => readChunk(m, sha256, idx));
    if (!chunk) return;
    yield chunk;
  }
}

export async function dropBlob(manager: EntityManager, sha256: string): Promise<void> {
  await manager.delete(BlobChunk, { sha256 });
}
