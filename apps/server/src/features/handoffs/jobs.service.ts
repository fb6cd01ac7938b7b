import { MessageChannel } from 'node:worker_threads';
import {
  handOffReportSchema,
  pieceDocSchema,
  type HandOffReport,
  type Job,
  type KeptHandOffs,
  type StartHandOff,
} from '@lithe-sieve/contract';
import { assertPattern, SieveError, toPlainError, type PieceDoc, type PlainError } from '@lithe-sieve/core';
import { gatherHandOff, type HandedOff } from '@lithe-sieve/host';
import PQueue from 'p-queue';
import type { Logger } from 'pino';
import { DamagedFileError, sha256Of } from '../../db/blobs.ts';
import type { JobRow } from '../../db/entities/job.ts';
import type { JobsRepository } from '../../db/repositories/jobs.ts';
import { StorageError } from '../../db/storage-error.ts';
import { StudioError, notFound } from '../../studio-error.ts';
import type { WorkerPool } from '../../worker/pool.ts';
import { fullSizeOf, fullSizeText } from '../pieces/full-size.ts';
import type { PiecesService } from '../pieces/pieces.service.ts';
import { viewOfFile } from './view-of-file.ts';
import { newId } from '../../new-id.ts';

/** Everything a job needs, so that one that was stopped with the server begins again with it. */
interface JobRequest {
  doc: PieceDoc;
  revision: number;
  /** Day on which it was asked for: a retry on another writes the same names. */
  date?: string;
  bench?: StartHandOff['bench'];
}

/** A job that crashes the server is not started for ever. */
const MOST_TRIES = 3;

type Ended = Pick<JobRow, 'state' | 'error'>;

export class JobsService {
  private readonly live = new Map<string, { progress: number; doing: string; abort: AbortController }>();
  /** Ends of jobs that could not be written down. */
  private readonly unwritten = new Map<string, Ended>();
  private readonly turns = new PQueue({ concurrency: 1 });
  private stopping = false;

  constructor(
    private readonly jobs: JobsRepository,
    private readonly pool: WorkerPool,
    private readonly pieces: PiecesService,
    private readonly log: Logger,
  ) {}

  async start(pieceId: string, { revision, bench }: StartHandOff): Promise<Job> {
    const piece = await this.pieces.open(pieceId);
    if (piece.revision !== revision) {
      throw new StudioError(
        'conflict',
        'stale-revision',
        'The piece has changed since; the hand-off was not started.',
        'Reload the piece.',
      );
    }
    try {
      assertPattern(piece.doc);
    } catch (error) {
      if (error instanceof SieveError) throw new StudioError('refused', error.code, error.message, error.remedy);
      throw error;
    }
    const createdAt = new Date().toISOString();
    const request: JobRequest = { doc: piece.doc, revision, date: createdAt.slice(0, 10), ...(bench ? { bench } : {}) };
    const id = newId();
    await this.jobs.add({ id, pieceId, request: JSON.stringify(request), createdAt });
    this.enqueue(id);
    return this.get(id);
  }

  /** Begins again what a stop interrupted. */
  async resume(): Promise<void> {
    for (const { id, tries } of await this.jobs.underWay()) {
      if (tries < MOST_TRIES) this.enqueue(id);
      else await this.end(id, 'failed', TRIED_TOO_OFTEN);
    }
  }

  async get(id: string): Promise<Job> {
    const row = await this.find(id);
    const live = this.live.get(id);
    const { state, error } = live ? row : { ...row, ...this.unwritten.get(id) };
    return {
      id,
      pieceId: row.pieceId,
      state,
      progress: state === 'done' ? 1 : (live?.progress ?? 0),
      doing: live?.doing ?? '',
      error: error ? (readJson<Job['error']>(error) ?? DAMAGED_REPORT) : null,
      report: row.report ? readReport(row.report) : null,
    };
  }

  /** The newest hand-off of a piece that runs, is finished, or failed: who left the page must see it too. */
  async latest(pieceId: string): Promise<Job | null> {
    const row = await this.jobs.newestOf(pieceId);
    return row ? this.get(row.id) : null;
  }

  /** Those of a piece that are kept; one whose report is damaged is left out. */
  async kept(pieceId: string): Promise<KeptHandOffs> {
    const rows = await this.jobs.doneOf(pieceId);
    return rows.flatMap(({ id, report: text }) => {
      const report = text ? readReport(text) : null;
      return report ? [{ id, report }] : [];
    });
  }

  /** A file as it is seen: of a scene file its colour. @throws where it holds no picture. */
  async viewOf(id: string, index: number, signal: AbortSignal): Promise<Uint8Array> {
    const file = (await this.get(id)).report?.files[index];
    if (!file) throw notFound('file');
    return viewOfFile(this.pool, file.name, await this.jobs.bytesOf(file), signal);
  }

  async cancel(id: string): Promise<Job> {
    await this.jobs.cancel(id);
    this.live.get(id)?.abort.abort();
    return this.get(id);
  }

  /** Stops what runs; its row stays `running`, and the next start resumes it. */
  async stop(): Promise<void> {
    this.stopping = true;
    for (const { abort } of this.live.values()) abort.abort();
    await this.turns.onIdle();
  }

  private enqueue(id: string): void {
    this.live.set(id, { progress: 0, doing: 'Waiting', abort: new AbortController() });
    void this.turns
      .add(() => this.runJob(id))
      .catch((error: unknown) => this.log.error({ err: error, job: id }, 'job'));
  }

  private async runJob(id: string): Promise<void> {
    const live = this.live.get(id);
    if (!live || this.stopping) return;
    const started = performance.now();
    try {
      const row = await this.find(id);
      if (row.state === 'cancelled') return;
      await this.jobs.begin(row);
      const request = readRequest(row.request);
      const result = await this.run(request, live, live.abort.signal);
      await this.finish(row, request, result);
      this.log.info({ job: id, ms: Math.round(performance.now() - started) }, 'handed off');
    } catch (error) {
      if (this.stopping) await this.jobs.untry(id);
      else await this.fail(id, error);
    } finally {
      this.live.delete(id);
    }
  }

  private async fail(id: string, error: unknown): Promise<void> {
    const known = error instanceof StudioError || error instanceof StorageError || error instanceof DamagedFileError;
    if (!known) this.log.error({ err: error, job: id }, 'job failed');
    const { code, message, remedy } = known ? error : toPlainError(error);
    await this.end(id, code === 'cancelled' ? 'cancelled' : 'failed', { code, message, remedy });
  }

  /** Where even this cannot be written, it is remembered: those that wait for the job get its end. */
  private async end(id: string, state: 'failed' | 'cancelled', error: PlainError): Promise<void> {
    const ended = { state, error: JSON.stringify(error) };
    try {
      await this.jobs.end(id, ended);
    } catch (cause) {
      this.unwritten.set(id, ended);
      this.log.error({ err: cause, job: id, ...error }, 'the end of a job could not be written');
    }
  }

  /** A hand-off that nobody keeps, in its turn. @throws where it fails, or `signal` ends it. */
  async perform(doc: PieceDoc, revision: number, signal: AbortSignal): Promise<HandedOff> {
    const date = new Date().toISOString().slice(0, 10);
    return this.turns.add(() => this.run({ doc, revision, date }, { progress: 0, doing: '' }, signal), { signal });
  }

  private async run(
    { doc, bench, revision, date = '' }: JobRequest,
    live: { progress: number; doing: string },
    signal: AbortSignal,
  ): Promise<HandedOff> {
    const input = await gatherHandOff(this.pieces, doc);
    const { port1, port2 } = new MessageChannel();
    port1.on('message', ({ share, doing }: { share: number; doing: string }) =>
      Object.assign(live, { progress: share, doing }),
    );
    port1.unref();
    try {
      return await this.pool.run(
        { kind: 'hand-off', ...input, facts: { revision, date }, progress: port2, ...(bench ? { bench } : {}) },
        { signal, transfer: [port2] },
      );
    } finally {
      port1.close();
    }
  }

  private async finish(row: JobRow, { doc, revision }: JobRequest, result: HandedOff): Promise<void> {
    const writtenAt = new Date().toISOString();
    const files = result.files.map(({ name, contents, bytes }) => ({
      name,
      contents,
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
      settings: result.settings,
      receivers: result.receivers.map(({ png, ...verdict }) => ({ ...verdict, picture: png && sha256Of(png) })),
      ok: result.checks.every((c) => c.ok),
    };
    await this.jobs.finish(row, {
      report: JSON.stringify(report),
      files: [
        ...files.map(({ sha256 }, i) => ({ sha256, bytes: result.files[i].bytes })),
        ...result.receivers.flatMap(({ png }) => (png ? [{ sha256: sha256Of(png), bytes: png }] : [])),
      ],
      writtenAt,
      revision,
      fullSize(before) {
        const { snags } = fullSizeOf(doc, before) ?? {}; // those that a page told
        return fullSizeText(doc, { ...result, snags });
      },
    });
  }

  private async find(id: string): Promise<JobRow> {
    const row = await this.jobs.find(id);
    if (!row) throw notFound('hand-off');
    return row;
  }
}

const DAMAGED_REPORT: PlainError = {
  code: 'damaged-report',
  message: 'The stored report of this hand-off is damaged.',
  remedy: 'Hand the piece off again.',
};

function readReport(text: string): HandOffReport | null {
  return handOffReportSchema.safeParse(readJson(text)).data ?? null;
}

function readJson<T>(text: string): T | null {
  try {
    return JSON.parse(text) as T;
  } catch {
    return null;
  }
}

const TRIED_TOO_OFTEN: PlainError = {
  code: 'tried-too-often',
  message: `The hand-off was started ${MOST_TRIES} times, and each time the server stopped before it finished.`,
  remedy: 'Check that there is enough memory for pictures of this size, then start it again.',
};

/** A job that a stop interrupted may be from before a parameter came. */
function readRequest(text: string): JobRequest {
  const request = JSON.parse(text) as JobRequest;
  return { ...request, doc: pieceDocSchema.parse(request.doc) };
}
