import { deflateSync } from 'node:zlib';
import { meshFactsSchema, type StoredMesh } from '@lithe-sieve/contract';
import { isStored, readBlobShared, sha256Of, writeBlob } from '../../db/blobs.ts';
import type { Database } from '../../db/database.ts';
import { SourceFile, type SourceFileRow } from '../../db/entities/source.ts';
import { notFound, StudioError } from '../../studio-error.ts';
import type { WorkerPool } from '../../worker/pool.ts';

/** Meshes that pieces lie on: files beside those of sources, of which none is a picture. */
export class MeshesService {
  /** The last one as pages take it: who brings one in asks for it next. */
  private last: { sha256: string; packed: Uint8Array } | null = null;

  constructor(
    private readonly db: Database,
    private readonly pool: WorkerPool,
  ) {}

  /**
   * Keeps a file unchanged, once. It is read in full first, so that a broken one leaves no row.
   *
   * @param bytes - In shared memory.
   * @param followed - A version of a file on disk: kept only as long as something names it.
   */
  async bringIn(fileName: string, bytes: Uint8Array, signal: AbortSignal, followed = false): Promise<StoredMesh> {
    const sha256 = sha256Of(bytes);
    const known = await this.db.read((m) => m.findOneBy(SourceFile, { sha256 }));
    const knownFacts = known && factsOf(known);
    // bytes that were damaged in the studio are not known any more: they are written again
    if (knownFacts && (await this.db.read((m) => isStored(m, sha256, bytes)))) {
      const isVersion = known.followed === 1 && followed;
      await this.db.write((m) => m.update(SourceFile, { sha256 }, { unnamedSince: null, followed: isVersion ? 1 : 0 }));
      return { sha256, fileName, bytes: bytes.length, facts: knownFacts };
    }
    const { facts, packed, picture } = await this.pool
      .run({ kind: 'read-mesh', bytes }, { signal })
      .catch((error: unknown) => {
        throw error instanceof StudioError
          ? new StudioError(error.kind, error.code, `${fileName}: ${error.message}`, error.remedy)
          : error;
      });
    await this.db.write(async (m) => {
      await writeBlob(m, sha256, bytes);
      await m.upsert(
        SourceFile,
        {
          sha256,
          bytes: bytes.length,
          facts: JSON.stringify(facts),
          proxyWidth: picture.width,
          proxyHeight: picture.height,
          proxy: Buffer.from(picture.rgba),
          proxyMore: deflateSync(Buffer.concat([picture.rgba, picture.rgba]), { level: 1 }),
          createdAt: new Date().toISOString(),
          followed: followed ? 1 : 0,
          unnamedSince: null,
        },
        ['sha256'],
      );
    });
    this.last = { sha256, packed };
    return { sha256, fileName, bytes: bytes.length, facts };
  }

  /** Null where it is not in the studio, or what is kept of it is damaged. */
  async factsOf(sha256: string): Promise<StoredMesh['facts'] | null> {
    const select = { sha256: true, facts: true };
    const row = await this.db.read((m) => m.findOne(SourceFile, { where: { sha256 }, select }));
    return row && factsOf(row);
  }

  /** A mesh and its facts as pages take them. @throws StudioError `not-found`; the errors of its reader. */
  async packed(sha256: string, signal: AbortSignal): Promise<Uint8Array> {
    if (this.last?.sha256 === sha256) return this.last.packed;
    const bytes = await this.db.read(async (m) => {
      const row = await m.findOneBy(SourceFile, { sha256 });
      if (!row) throw notFound('mesh');
      return readBlobShared(m, sha256, row.bytes);
    });
    const { packed } = await this.pool.run({ kind: 'read-mesh', bytes }, { signal });
    this.last = { sha256, packed };
    return packed;
  }
}

/** Null where they are damaged, or of a picture. */
function factsOf({ facts }: Pick<SourceFileRow, 'facts'>): StoredMesh['facts'] | null {
  try {
    return meshFactsSchema.parse(JSON.parse(facts));
  } catch {
    return null;
  }
}
