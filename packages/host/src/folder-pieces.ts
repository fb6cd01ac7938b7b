import { createHash } from 'node:crypto';
import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { pieceDocSchema } from '@lithe-sieve/contract';
import { SieveError, type PieceDoc, type Stroke } from '@lithe-sieve/core';
import { strokeIdsOf, type PieceStore } from './piece-store.ts';

const COPY_IT_OUT = 'Copy the piece out of its studio again.';

/**
 * Pieces in folders, each as a studio copies it out (`salvage.zip`): `document.json`, `strokes.json`, and its files as
 * `sources/<SHA-256>.<format>`.
 */
export class FolderPieces implements PieceStore {
  /** @param folder - Of one piece. */
  constructor(private readonly folder: string) {}

  async docOf(): Promise<PieceDoc> {
    const { success, data, error } = pieceDocSchema.safeParse(await this.json('document.json'));
    if (success) return data;
    const [{ path, message }] = error.issues;
    const where = path.join('.') || 'its top';
    throw new SieveError('corrupt', `document.json cannot be read: at ${where}, ${message}.`, COPY_IT_OUT);
  }

  async strokesOf(doc: PieceDoc): Promise<Stroke[]> {
    const named = new Set(strokeIdsOf(doc));
    if (named.size === 0) return [];
    const rows = (await this.json('strokes.json')) as { id: string; data: string }[];
    return rows.filter((row) => named.has(row.id)).map((row) => JSON.parse(row.data) as Stroke);
  }

  async fileOf(sha256: string, called: string): Promise<Uint8Array> {
    const folder = join(this.folder, 'sources');
    const name = (await readdir(folder).catch(() => [])).find((n) => n.startsWith(`${sha256}.`));
    if (!name) throw new SieveError('missing-source', `The file ${called} is not in ${folder}.`, COPY_IT_OUT);
    const bytes = new Uint8Array(await readFile(join(folder, name)));
    if (createHash('sha256').update(bytes).digest('hex') !== sha256)
      throw new SieveError('corrupt', `The file ${called} is not the one that was copied out.`, COPY_IT_OUT);
    return bytes;
  }

  private async json(name: string): Promise<unknown> {
    try {
      return JSON.parse(await readFile(join(this.folder, name), 'utf8')) as unknown;
    } catch (cause) {
      throw new SieveError('corrupt', `${name} cannot be read: ${(cause as Error).message}.`, COPY_IT_OUT, { cause });
    }
  }
}
