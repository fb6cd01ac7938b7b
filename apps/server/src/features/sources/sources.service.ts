import { deflateSync, inflateSync } from 'node:zlib';
import { sourceFactsSchema, type StoredSource } from '@lithe-sieve/contract';
import {
  halvingsTo,
  LIMITS,
  makePicture,
  recipeFacts,
  shrink,
  writePng,
  type PieceDoc,
  type SourceFacts,
} from '@lithe-sieve/core';
import { In } from 'typeorm';
import { isStored, openBlob, readBlobShared, sha256Of, writeBlob } from '../../db/blobs.ts';
import type { Database } from '../../db/database.ts';
import { SourceFile, type SourceFileRow } from '../../db/entities/source.ts';
import { StudioError, notFound } from '../../studio-error.ts';
import { deflateInStrips, looksLikeMesh } from '@lithe-sieve/host';
import type { WorkerPool } from '../../worker/pool.ts';
import type { Inspected, Proxy } from '../../worker/tasks.ts';

/** Sides of the picture of a source that fills a screen, and of one in a list, at the most. */
const SCREEN_SIDE = 2048;
const PICTURE_SIDE = 128;

export class SourcesService {
  constructor(
    private readonly db: Database,
    private readonly pool: WorkerPool,
  ) {}

  /**
   * Keeps a file unchanged, once. It is decoded in full first, so that a broken one leaves no row.
   *
   * @param bytes - In shared memory.
   * @param followed - A version of a file on disk: kept only as long as something names it.
   */
  async bringIn(fileName: string, bytes: Uint8Array, signal: AbortSignal, followed = false): Promise<StoredSource> {
    const sha256 = sha256Of(bytes);
    const known = await this.db.read((m) => m.findOneBy(SourceFile, { sha256 }));
    const knownFacts = known && readFacts(known);
    if (known && knownFacts && (await this.isWhole(sha256, bytes))) {
      if (known.unnamedSince || (known.followed && !followed))
        await this.holdAgain(sha256, known.followed && followed ? 1 : 0);
      return { sha256, fileName, bytes: known.bytes, facts: knownFacts, known: true };
    }
    if (looksLikeMesh(bytes)) throw isMesh(fileName);
    const { facts, proxy } = await this.pool.run({ kind: 'inspect', bytes }, { signal }).catch((error: unknown) => {
      throw error instanceof StudioError ? named(error, fileName) : error;
    });
    await this.db.write(async (m) => {
      await writeBlob(m, sha256, bytes);
      await m.upsert(
        SourceFile,
        {
          sha256,
          bytes: bytes.length,
          facts: JSON.stringify(facts),
          proxyWidth: proxy.width,
          proxyHeight: proxy.height,
          proxy: Buffer.from(proxy.rgba),
          proxyMore: deflated(proxy),
          createdAt: new Date().toISOString(),
          followed: followed ? 1 : 0,
          unnamedSince: null,
        },
        ['sha256'],
      );
    });
    return { sha256, fileName, bytes: bytes.length, facts, known: false };
  }

  /** Damaged facts are computed again from the file itself. */
  async factsOf(sha256s: readonly string[]): Promise<Map<string, SourceFacts>> {
    const rows = await this.db.read((m) => m.findBy(SourceFile, { sha256: In([...new Set(sha256s)]) }));
    const facts = new Map<string, SourceFacts>();
    for (const row of rows) facts.set(row.sha256, readFacts(row) ?? (await this.computeAgain(row)));
    return facts;
  }

  /** Facts of all sources of a document, those that are grown too. */
  async factsOfDoc({ sources }: PieceDoc): Promise<Map<string, SourceFacts>> {
    const facts = await this.factsOf(sources.filter((s) => !s.recipe).map((s) => s.sha256));
    for (const { sha256, recipe } of sources) if (recipe) facts.set(sha256, recipeFacts(recipe));
    return facts;
  }

  private async computeAgain({ sha256 }: SourceFileRow): Promise<SourceFacts> {
    const { facts } = await this.inspectAgain(sha256);
    await this.db.write((m) => m.update(SourceFile, { sha256 }, { facts: JSON.stringify(facts) }));
    return facts;
  }

  /** A source at view size. Earlier studios hold a part of it: the rest is computed from the file once. */
  async proxyOf(sha256: string): Promise<Proxy> {
    const row = await this.db.read((m) =>
      m.findOne(SourceFile, {
        where: { sha256 },
        select: { sha256: true, proxyWidth: true, proxyHeight: true, proxy: true, proxyMore: true },
      }),
    );
    if (!row) throw notFound('source');
    const { proxyWidth: width, proxyHeight: height } = row;
    const bytes = 4 * width * height;
    const more = inflated(row.proxyMore, 2 * bytes);
    if (!more) return this.proxyAgain(sha256);
    const rgba = new Uint8Array(row.proxy);
    return { width, height, rgba, values: more.subarray(0, bytes), samples: more.subarray(bytes) };
  }

  /** A small picture of a source, PNG. */
  async pictureOf(sha256: string): Promise<Uint8Array> {
    const { width, height, rgba } = await this.proxyOf(sha256);
    const picture = makePicture(width, height, rgba);
    return writePng(shrink(picture, halvingsTo(PICTURE_SIDE, picture), 'colour'), deflateInStrips);
  }

  /** One that fills a screen, PNG: decoded for this once. */
  async viewOf(sha256: string, signal: AbortSignal): Promise<Uint8Array> {
    const { width, height, rgba } = await this.largerProxyOf(sha256, SCREEN_SIDE, signal);
    return writePng(makePicture(width, height, rgba), deflateInStrips);
  }

  /** A larger one, for a piece of which little is left of the picture: decoded for this once. @param side - At the most. */
  async largerProxyOf(sha256: string, side: number, signal: AbortSignal): Promise<Proxy> {
    return (await this.inspectAgain(sha256, { side, signal })).proxy;
  }

  private async proxyAgain(sha256: string): Promise<Proxy> {
    const { proxy } = await this.inspectAgain(sha256);
    await this.db.write((m) => m.update(SourceFile, { sha256 }, { proxyMore: deflated(proxy) }));
    return proxy;
  }

  private async inspectAgain(
    sha256: string,
    { side, signal }: { side?: number; signal?: AbortSignal } = {},
  ): Promise<Inspected> {
    const bytes = await this.db.read(async (m) => {
      const row = await m.findOneBy(SourceFile, { sha256 });
      if (!row) throw notFound('source');
      return readBlobShared(m, sha256, row.bytes);
    });
    return this.pool.run({ kind: 'inspect', bytes, ...(side && { side }) }, { ...(signal && { signal }) });
  }

  /** A file that comes again is not deleted now. */
  private async holdAgain(sha256: string, followed: number): Promise<void> {
    await this.db.write((m) => m.update(SourceFile, { sha256 }, { unnamedSince: null, followed }));
  }

  /** Bytes that were damaged in the studio are not known any more: they are written again. */
  private isWhole(sha256: string, bytes: Uint8Array): Promise<boolean> {
    return this.db.read((m) => isStored(m, sha256, bytes));
  }

  /**
   * The stored bytes, a chunk at a time, checked before the first one.
   *
   * @throws StudioError `not-found`, DamagedFileError
   */
  async read(sha256: string): Promise<{ length: number; chunks: AsyncIterable<Buffer> | Iterable<Buffer> }> {
    const blob = await openBlob(this.db, sha256);
    if (!blob) throw notFound('file');
    return blob;
  }
}

function deflated({ values, samples }: Proxy): Buffer {
  return deflateSync(Buffer.concat([values, samples]), { level: 1 });
}

/** Null where there is nothing, or it is damaged. */
function inflated(bytes: Buffer | null, length: number): Uint8Array | null {
  if (!bytes) return null;
  try {
    const out = inflateSync(bytes, { maxOutputLength: length });
    return out.length === length ? new Uint8Array(out) : null;
  } catch {
    return null;
  }
}

/** Null where they are damaged. */
export function readFacts({ facts }: Pick<SourceFileRow, 'facts'>): SourceFacts | null {
  try {
    return sourceFactsSchema.parse(JSON.parse(facts));
  } catch {
    return null;
  }
}

function named(error: StudioError, fileName: string): StudioError {
  return new StudioError(error.kind, error.code, `${fileName}: ${error.message}`, error.remedy);
}

function isMesh(fileName: string): StudioError {
  const what = `${fileName} is a mesh, not a picture.`;
  return new StudioError('refused', 'unknown-format', what, 'Open a piece, and choose the file in its Card tray.');
}

export function tooLarge(fileName: string): StudioError {
  const limit = Math.round(LIMITS.fileBytes / 1024 / 1024);
  return new StudioError('too-large', 'too-large', `${fileName}: the file is over ${limit} MB.`, 'Save it smaller.');
}
