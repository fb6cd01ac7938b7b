import { In, LessThan, type EntityManager } from 'typeorm';
import { dropBlob, readBlobShared, writeBlob } from '../blobs.ts';
import type { Database } from '../database.ts';
import { JobEntity, type JobRow } from '../entities/job.ts';
import { PieceEntity } from '../entities/piece.ts';
import { SourceFile } from '../entities/source.ts';
import { nextOf } from '../sequence.ts';

/** What a hand-off came to. */
export interface Finished {
  /** JSON of the report, and the files that it names. */
  report: string;
  files: readonly { sha256: string; bytes: Uint8Array }[];
  writtenAt: string;
  /** The revision of the piece that was handed off. */
  revision: number;
  /** What is known of that revision at full size from now on. @param before - What was known. */
  fullSize: (before: string | null) => string;
}

/** Hand-offs kept of a piece; older ones lose their files. */
const KEPT_PER_PIECE = 3;
const SHA256 = /\b[0-9a-f]{64}\b/g;
const UNDER_WAY = In(['waiting', 'running']);

/** Hand-offs as they are stored. */
export class JobsRepository {
  constructor(private readonly db: Database) {}

  async add(row: Pick<JobRow, 'id' | 'pieceId' | 'request' | 'createdAt'>): Promise<void> {
    await this.db.write(async (m) => {
      await m.insert(JobEntity, { ...row, state: 'waiting', seq: await nextOf(m, 'job', 'seq') });
    });
  }

  find(id: string): Promise<JobRow | null> {
    return this.db.read((m) => m.findOneBy(JobEntity, { id }));
  }

  /** A file of a report. @throws DamagedFileError */
  bytesOf({ sha256, bytes }: { sha256: string; bytes: number }): Promise<Uint8Array> {
    return this.db.read((m) => readBlobShared(m, sha256, bytes));
  }

  /** Those that a stop interrupted, in their order. */
  underWay(): Promise<JobRow[]> {
    return this.db.read((m) => m.find(JobEntity, { where: { state: UNDER_WAY }, order: { seq: 'ASC' } }));
  }

  /** The newest of a piece that was not cancelled. */
  async newestOf(pieceId: string): Promise<JobRow | null> {
    const state = In(['waiting', 'running', 'done', 'failed']);
    const [row] = await this.db.read((m) =>
      m.find(JobEntity, { where: { pieceId, state }, order: { seq: 'DESC' }, take: 1 }),
    );
    return row ?? null;
  }

  /** Those of a piece whose files are kept, the newest first. */
  doneOf(pieceId: string): Promise<JobRow[]> {
    return this.db.read((m) => m.find(JobEntity, { where: { pieceId, state: 'done' }, order: { seq: 'DESC' } }));
  }

  async cancel(id: string): Promise<void> {
    await this.db.write((m) => m.update(JobEntity, { id, state: UNDER_WAY }, { state: 'cancelled' }));
  }

  async begin({ id, tries }: JobRow): Promise<void> {
    await this.db.write((m) => m.update(JobEntity, { id }, { state: 'running', tries: tries + 1 }));
  }

  /** A stop in order is no failed try. */
  async untry(id: string): Promise<void> {
    await this.db.write((m) => m.decrement(JobEntity, { id }, 'tries', 1));
  }

  async end(id: string, ended: Pick<JobRow, 'state' | 'error'>): Promise<void> {
    await this.db.write((m) => m.update(JobEntity, { id }, ended));
  }

  /** Writes files, report and what the piece learned in one change; nothing where it was cancelled meanwhile. */
  async finish({ id, pieceId, seq }: JobRow, finished: Finished): Promise<void> {
    const { report, files, writtenAt, revision, fullSize } = finished;
    await this.db.write(async (m) => {
      const now = await m.findOneBy(JobEntity, { id });
      if (now?.state === 'cancelled') return;
      for (const { sha256, bytes } of files) await writeBlob(m, sha256, bytes);
      await m.update(JobEntity, { id }, { state: 'done', report });
      await m.update(PieceEntity, { id: pieceId }, { handedOffAt: writtenAt });
      // a later revision may have its own share already
      const known = (await m.findOneBy(PieceEntity, { id: pieceId, revision }))?.fullSize ?? null;
      await m.update(PieceEntity, { id: pieceId, revision }, { fullSize: fullSize(known) });
      const done = await m.find(JobEntity, { where: { pieceId, state: 'done' }, order: { seq: 'DESC' } });
      const dropped = done.slice(KEPT_PER_PIECE);
      for (const old of dropped) await m.delete(JobEntity, { id: old.id });
      const ended = In(['failed', 'cancelled']); // what came of them is of no use after this one
      await m.delete(JobEntity, { pieceId, state: ended, seq: LessThan(seq) });
      await dropUnreferenced(m, dropped);
    });
  }
}

/** Frees the files of dropped hand-offs that no other hand-off and no source holds. */
async function dropUnreferenced(m: EntityManager, dropped: readonly JobRow[]): Promise<void> {
  const shasOf = (row: JobRow) => row.report?.match(SHA256) ?? []; // a damaged report holds what it still names
  const held = new Set((await m.find(JobEntity)).flatMap(shasOf));
  for (const sha256 of new Set(dropped.flatMap(shasOf))) {
    if (!held.has(sha256) && !(await m.existsBy(SourceFile, { sha256 }))) await dropBlob(m, sha256);
  }
}
