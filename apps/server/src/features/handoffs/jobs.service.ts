import { MessageChannel } from 'node:worker_threads';
import { pieceDocSchema, type HandOffReport, type Job, type StartHandOff } from '@lithe-sieve/contract';
import { assertPattern, SieveError, toPlainError, type PieceDoc } from '@lithe-sieve/core';
import { In } from 'typeorm';
import type { Logger } from 'pino';
import { dropBlob, sha256Of, writeBlob } from '../../db/blobs.ts';
import type { Database } from '../../db/database.ts';
import { JobEntity, PieceEntity, SourceFile, type JobRow } from '../../db/entities.ts';
import { AppError, notFound } from '../../http/app-error.ts';
import type { WorkerPool } from '../../worker/pool.ts';
import type { HandedOff } from '../../worker/tasks.ts';
import type { PiecesService } from '../pieces/pieces.service.ts';
import { newId } from '../sources/sources.service.ts';

/** Everything a job needs, so that one that was stopped with the server begins again with it. */
interface JobRequest {
  doc: PieceDoc;
  revision: number;
  bench?: { colour: string; mask: string };
}

/** Hand-offs kept of a piece; older ones lose their files. */
const KEPT_PER_PIECE = 3;

export class JobsService {
  private readonly live = new Map<string, { progress: number; doing: string; abort: AbortController }>();
  private tail: Promise<void> = Promise.resolve();
  private stopping = false;

  constructor(
    private readonly db: Database,
    private readonly pool: WorkerPool,
    private readonly pieces: PiecesService,
    private readonly log: Logger,
  ) {}

  async start(pieceId: string, { revision, bench }: StartHandOff): Promise<Job> {
    const piece = await this.pieces.open(pieceId);
    if (piece.revision !== revision) {
      throw new AppError(
        409,
        'stale-revision',
        'The piece has changed since; the hand-off was not started.',
        'Load it anew.',
      );
    }
    try {
      assertPattern(piece.doc);
    } catch (error) {
      if (error instanceof SieveError) throw new AppError(422, error.code, error.message, error.remedy);
      throw error;
    }
    const request: JobRequest = { doc: piece.doc, revision, ...(bench ? { bench } : {}) };
    const id = newId();
    const createdAt = new Date().toISOString();
    await this.db.run((m) =>
      m.insert(JobEntity, { id, pieceId, state: 'waiting', request: JSON.stringify(request), createdAt }),
    );
    this.enqueue(id);
    return this.get(id);
  }

  /** Begins again what a stop interrupted. */
  async resume(): Promise<void> {
    const rows = await this.db.run((m) => m.findBy(JobEntity, { state: In(['waiting', 'running']) }));
    for (const { id } of rows) this.enqueue(id);
  }

  async get(id: string): Promise<Job> {
    const row = await this.find(id);
    const live = this.live.get(id);
    return {
      id,
      pieceId: row.pieceId,
      state: row.state,
      progress: row.state === 'done' ? 1 : (live?.progress ?? 0),
      doing: live?.doing ?? '',
      error: row.error ? (JSON.parse(row.error) as Job['error']) : null,
      report: row.report ? (JSON.parse(row.report) as HandOffReport) : null,
    };
  }

  /** The newest finished hand-off of a piece. */
  async latest(pieceId: string): Promise<Job | null> {
    const [row] = await this.db.run((m) =>
      m.find(JobEntity, { where: { pieceId, state: 'done' }, order: { createdAt: 'DESC' }, take: 1 }),
    );
    return row ? this.get(row.id) : null;
  }

  async cancel(id: string): Promise<Job> {
    await this.db.run((m) => m.update(JobEntity, { id, state: In(['waiting', 'running']) }, { state: 'cancelled' }));
    this.live.get(id)?.abort.abort();
    return this.get(id);
  }

  /** Stops what runs; its row stays `running`, and the next start resumes it. */
  async stop(): Promise<void> {
    this.stopping = true;
    for (const { abort } of this.live.values()) abort.abort();
    await this.tail;
  }

  private enqueue(id: string): void {
    this.live.set(id, { progress: 0, doing: 'Waiting', abort: new AbortController() });
    this.tail = this.tail
      .then(() => this.runJob(id))
      .catch((error: unknown) => this.log.error({ err: error, job: id }, 'job'));
  }

  private async runJob(id: string): Promise<void> {
    const live = this.live.get(id);
    if (!live || this.stopping) return;
    const started = performance.now();
    try {
      const row = await this.find(id);
      if (row.state === 'cancelled') return;
      await this.db.run((m) => m.update(JobEntity, { id }, { state: 'running' }));
      const request = readRequest(row.request);
      const result = await this.perform(request, live);
      await this.finish(row, request, result);
      this.log.info({ job: id, ms: Math.round(performance.now() - started) }, 'handed off');
    } catch (error) {
      if (this.stopping) return;
      const plain = error instanceof AppError ? error : toPlainError(error);
      const state = plain.code === 'cancelled' ? 'cancelled' : 'failed';
      const { code, message, remedy } = plain;
      await this.db.run((m) =>
        m.update(JobEntity, { id }, { state, error: JSON.stringify({ code, message, remedy }) }),
      );
    } finally {
      this.live.delete(id);
    }
  }

  private async perform(
    { doc, bench }: JobRequest,
    live: { progress: number; doing: string; abort: AbortController },
  ): Promise<HandedOff> {
    const sources = [];
    for (const { id, sha256 } of doc.sources) {
      sources.push({ id, sha256, bytes: await this.pieces.fileOf(sha256) });
    }
    const { strokes, tips } = await this.pieces.byHand(doc);
    const { port1, port2 } = new MessageChannel();
    port1.on('message', ({ share, doing }: { share: number; doing: string }) =>
      Object.assign(live, { progress: share, doing }),
    );
    port1.unref();
    try {
      return await this.pool.run(
        { kind: 'hand-off', doc, sources, strokes, tips, progress: port2, ...(bench ? { bench } : {}) },
        { signal: live.abort.signal, transfer: [port2] },
      );
    } finally {
      port1.close();
    }
  }

  private async finish(row: JobRow, { doc, revision }: JobRequest, result: HandedOff): Promise<void> {
    const writtenAt = new Date().toISOString();
    const files = result.files.map(({ name, says, bytes }) => ({
      name,
      says,
      bytes: bytes.length,
      sha256: sha256Of(bytes),
    }));
    const report: HandOffReport = {
      piece: doc.name,
      revision,
      profile: doc.handOff.profile,
      writtenAt,
      files,
      checks: result.checks,
      ok: result.checks.every((c) => c.ok),
    };
    await this.db.run(async (m) => {
      const now = await m.findOneBy(JobEntity, { id: row.id });
      if (now?.state === 'cancelled') return;
      for (const [i, { sha256 }] of files.entries()) await writeBlob(m, sha256, result.files[i].bytes);
      await m.update(JobEntity, { id: row.id }, { state: 'done', report: JSON.stringify(report) });
      await m.update(PieceEntity, { id: row.pieceId }, { handedOffAt: writtenAt });
      const jobs = await m.find(JobEntity, {
        where: { pieceId: row.pieceId, state: 'done' },
        order: { createdAt: 'DESC' },
      });
      for (const old of jobs.slice(KEPT_PER_PIECE)) await m.delete(JobEntity, { id: old.id });
      await this.dropUnreferenced(m, jobs.slice(KEPT_PER_PIECE));
    });
  }

  /** Frees the files of dropped hand-offs that no other hand-off and no source holds. */
  private async dropUnreferenced(m: Parameters<typeof dropBlob>[0], dropped: JobRow[]): Promise<void> {
    const shasOf = (row: JobRow) =>
      row.report ? (JSON.parse(row.report) as HandOffReport).files.map((f) => f.sha256) : [];
    const held = new Set((await m.find(JobEntity)).flatMap(shasOf));
    for (const sha256 of new Set(dropped.flatMap(shasOf))) {
      if (!held.has(sha256) && !(await m.existsBy(SourceFile, { sha256 }))) await dropBlob(m, sha256);
    }
  }

  private async find(id: string): Promise<JobRow> {
    const row = await this.db.run((m) => m.findOneBy(JobEntity, { id }));
    if (!row) throw notFound('hand-off');
    return row;
  }
}

/** A job that a stop interrupted may be from before a parameter came. */
function readRequest(text: string): JobRequest {
  const request = JSON.parse(text) as JobRequest;
  return { ...request, doc: pieceDocSchema.parse(request.doc) };
}
