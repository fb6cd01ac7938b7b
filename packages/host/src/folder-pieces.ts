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
    const rows = await this.json('strokes.json');
    if (!Array.isArray(rows)) throw new SieveError('corrupt', 'strokes.json is no list of strokes.', COPY_IT_OUT);
    return (rows as Partial<StrokeRow>[]).flatMap(({ id, data }) => (id && named.has(id) ? readable(data) : []));
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

interface StrokeRow {
  id: string;
  data: string;
}

/** The step that names one that is damaged says that it is missing. */
function readable(data: string | undefined): Stroke[] {
  try {
    return [JSON.parse(data ?? '') as Stroke];
  } catch {
    return [];
  }
}
