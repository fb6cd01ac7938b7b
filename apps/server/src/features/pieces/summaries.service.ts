import type { FullSize, PieceList, PieceSummary } from '@lithe-sieve/contract';
import { toPlainError, type PieceDoc, type PlainError } from '@lithe-sieve/core';
import { In, IsNull } from 'typeorm';
import PQueue from 'p-queue';
import type { Logger } from 'pino';
import type { Database } from '../../db/database.ts';
import { PieceEntity, type PieceRow } from '../../db/entities/piece.ts';
import { asStorageError, StorageError } from '../../db/storage-error.ts';
import { StudioError, notFound } from '../../studio-error.ts';
import type { WorkerPool } from '../../worker/pool.ts';
import type { SourcesService } from '../sources/sources.service.ts';
import type { MeshesService } from '../meshes/meshes.service.ts';
import type { PiecesService } from './pieces.service.ts';
import { fullSizeOf, fullSizeText, type AtFullSize } from './full-size.ts';
import { readDoc } from './read-doc.ts';
import { SummaryMaker } from './summary-maker.ts';

/** What was computed of a revision; `problem` where it could not be. */
interface Stored {
  coverage: number | null;
  /** It is of the full size. */
  exact?: boolean;
  /** Before it was computed, that of the colour picture. */
  size?: AtFullSize['size'];
  snags: string[];
  problem?: PlainError | null;
  /** How often the computation of a revision was begun. */
  begun?: { revision: number; times: number };
}

/** A part of the Stock: pieces whose name and mode hold all words of `search`, newest change first. */
export interface Wanted {
  from: number;
  count: number;
  search: string;
}

/** At the same time. */
const AT_ONCE = 2;
/** A summary that crashes the server is not started for ever. */
const MOST_TRIES = 3;
/** An older revision is computed to its end where that is soon: ending a thread costs as much as this. */
const NEARLY_MS = 2000;

interface UnderWay {
  revision: number;
  done: Promise<void>;
  /** Ends it. */
  off: AbortController;
}

/**
 * What the Stock shows of pieces. A list never waits for a computation: what is not there yet is computed behind it, at
 * proxy size, and kept until the piece changes. A piece that cannot be read or computed fails alone.
 */
export class SummariesService {
  private readonly underWay = new Map<string, UnderWay>();
  private readonly turns = new PQueue({ concurrency: AT_ONCE });
  private readonly maker: SummaryMaker;
  private stopped = false;

  constructor(
    private readonly db: Database,
    private readonly pool: WorkerPool,
    pieces: PiecesService,
    sources: SourcesService,
    meshes: MeshesService,
    private readonly log: Logger,
  ) {
    this.maker = new SummaryMaker(pool, pieces, sources, meshes);
  }

  async list({ from, count, search }: Wanted): Promise<PieceList> {
    const words = search.toLowerCase().split(/\s+/).filter(Boolean);
    const rows = await this.db.read(async (m) => {
      const all = await m.find(PieceEntity, {
        where: { deletedAt: IsNull() },
        order: { changeSeq: 'DESC' },
        select: { id: true, name: true, mode: true },
      });
      const found = all.filter((p) => words.every((w) => `${p.name} ${p.mode}`.toLowerCase().includes(w)));
      const ids = found.slice(from, from + count).map((p) => p.id);
      const page = await m.find(PieceEntity, { where: { id: In(ids) }, order: { changeSeq: 'DESC' } });
      return { all: all.length, found: found.length, page };
    });
    return { total: rows.all, found: rows.found, pieces: rows.page.map((row) => this.summaryOf(row)) };
  }

  /** Computes what is not there yet of the newest revision. */
  async make(id: string): Promise<void> {
    const row = await this.db.read((m) => m.findOneBy(PieceEntity, { id }));
    if (row && row.summaryRevision !== row.revision) await this.refresh(row);
  }

  /** The picture of the newest revision, made if it is not there yet. */
  async pictureOf(id: string): Promise<Buffer> {
    await this.make(id);
    const found = await this.db.read((m) =>
      m.findOne(PieceEntity, { where: { id }, select: { id: true, picture: true } }),
    );
    const picture = found?.picture;
    if (!picture) throw notFound('picture');
    return picture;
  }

  /**
   * What the Bench shows first of a piece: colour and alpha, at proxy size, with the sides of the full size. Never waits.
   *
   * @returns null where nothing is kept of its newest revision.
   */
  async viewOf(id: string): Promise<{ png: Buffer; width: number; height: number } | null> {
    const row = await this.db.read((m) =>
      m.findOne(PieceEntity, {
        where: { id },
        select: { id: true, doc: true, revision: true, viewRevision: true, summaryRevision: true, summary: true, fullSize: true, view: true }, // prettier-ignore
      }),
    );
    const { doc } = row ? docOf(row) : { doc: null };
    if (!row?.view || !doc || ![row.viewRevision, row.summaryRevision].includes(row.revision)) return null;
    const size = fullSizeOf(doc, row.fullSize)?.size ?? readStored(row).size;
    return size ? { png: row.view, ...size } : null;
  }

  /** Pieces whose summary is under way. */
  get computing(): number {
    return this.underWay.size;
  }

  /** Lets nothing new begin, and ends what is under way: that is no failed try. */
  async stop(): Promise<void> {
    this.stopped = true;
    this.turns.pause();
    this.turns.clear();
    for (const { off } of this.underWay.values()) off.abort();
    await this.turns.onPendingZero();
  }

  private summaryOf(row: PieceRow): PieceSummary {
    const { id, revision, name, steps, updatedAt, handedOffAt } = row;
    const stored = readStored(row);
    const read = docOf(row);
    const problem = read.problem ?? (row.summaryRevision === revision ? stored.problem : null) ?? null;
    const fresh = row.summaryRevision === revision || problem !== null;
    if (!fresh) void this.refresh(row).catch((error: unknown) => this.log.warn({ err: error, piece: id }, 'summary'));
    const mode = MODES.find((m) => m === row.mode) ?? 'mask';
    const full = read.doc && fullSizeOf(read.doc, row.fullSize);
    const { coverage, size } = { ...stored, ...full };
    const snags = full?.snags ?? stored.snags;
    const all = stored.exact === true && row.summaryRevision === revision;
    const exact = { coverage: all || Boolean(full), snags: all || full?.snags !== undefined, picture: row.viewRevision === revision }; // prettier-ignore
    const { width, height } = size ?? row;
    return {
      id,
      revision,
      name,
      width,
      height,
      mode,
      steps,
      coverage,
      snags,
      fresh,
      exact,
      problem,
      updatedAt,
      handedOffAt,
    };
  }

  private refresh(row: PieceRow): Promise<void> {
    const { id, revision } = row;
    const before = this.underWay.get(id);
    if (before?.revision === revision) return before.done;
    this.giveUp(id);
    const off = new AbortController();
    const done = this.turns
      .add(() => this.compute(row, off.signal))
      .finally(() => {
        if (this.underWay.get(id)?.off === off) this.underWay.delete(id);
      });
    this.underWay.set(id, { revision, done, off });
    return done;
  }

  /** A piece was changed or deleted: what is computed of it as it was is of no use any more. */
  giveUp(id: string): void {
    const running = this.underWay.get(id);
    if (running) setTimeout(() => running.off.abort(), NEARLY_MS).unref();
  }

  private async compute(row: PieceRow, signal: AbortSignal): Promise<void> {
    if (signal.aborted) return;
    const { id, revision, doc: text } = row;
    let stored: Stored = { coverage: null, snags: [] };
    let [picture, view]: (Buffer | null)[] = [null, null];
    try {
      const doc = readDoc(text);
      if (doc.sources.length > 0) {
        await this.begin(row);
        const made = await this.maker.make(doc, signal);
        stored = { coverage: made.coverage, exact: made.exact, size: made.size, snags: made.snags };
        picture = Buffer.from(made.png);
        view = Buffer.from(made.view);
      }
    } catch (error) {
      if (signal.aborted) return this.untry(row); // it is asked for again by who wants it
      if (this.stopped || asStorageError(error) instanceof StorageError) throw error; // not the piece's doing
      stored.problem = plainOf(error);
    }
    const summary = JSON.stringify(stored);
    await this.db.write(async (m) => {
      const row = await m.findOneBy(PieceEntity, { id, revision });
      const shown = row?.viewRevision === revision ? {} : { picture, view }; // a page made them at full size
      await m.update(PieceEntity, { id, revision }, { summaryRevision: revision, summary, ...shown });
    });
  }

  /**
   * Counts a try of a revision, on the disk: a computation that takes the server with it would else begin again with the
   * next one, for ever.
   *
   * @throws StudioError `tried-too-often`
   */
  private async begin(row: PieceRow): Promise<void> {
    if ((await this.count(row, 1)) > MOST_TRIES) throw triedTooOften();
  }

  /** It was called off, which is no failed try. */
  private async untry(row: PieceRow): Promise<void> {
    await this.count(row, -1);
  }

  private count({ id, revision }: PieceRow, by: number): Promise<number> {
    return this.db.write(async (m) => {
      const row = await m.findOneBy(PieceEntity, { id, revision });
      if (!row) return 0;
      const stored = readStored(row);
      const times = Math.max(0, (stored.begun?.revision === revision ? stored.begun.times : 0) + by);
      const summary = JSON.stringify({ ...stored, begun: { revision, times } });
      await m.update(PieceEntity, { id, revision }, { summary });
      return times;
    });
  }

  /** A page computed the full size of a revision: what it came to is what the Stock shows from now on. */
  async tellFullSize(id: string, { revision, view: text, ...size }: FullSize): Promise<void> {
    const row = await this.db.read((m) => m.findOneBy(PieceEntity, { id, revision }));
    if (!row) return;
    const doc = readDoc(row.doc);
    const fullSize = fullSizeText(doc, size);
    const view = text === undefined ? null : Buffer.from(text, 'base64');
    const made = view && (await this.pool.run({ kind: 'take-view', png: view, material: doc.material }));
    const shown = made && { view, picture: Buffer.from(made.png), viewRevision: revision };
    await this.db.write((m) => m.update(PieceEntity, { id, revision }, { fullSize, ...shown }));
  }
}

function triedTooOften(): StudioError {
  return new StudioError(
    'refused',
    'tried-too-often',
    `Its picture was begun ${MOST_TRIES} times, and each time the server ended before it was made.`,
    'Open the piece and switch off the step that takes too much, or make its texture smaller.',
  );
}

const MODES = ['opaque', 'mask', 'blend'] as const;

/** The document, or why it cannot be read. */
function docOf({ doc }: Pick<PieceRow, 'doc'>): { doc: PieceDoc | null; problem: PlainError | null } {
  try {
    return { doc: readDoc(doc), problem: null };
  } catch (error) {
    return { doc: null, problem: plainOf(error) };
  }
}

function readStored({ summary }: Pick<PieceRow, 'summary'>): Stored {
  try {
    if (summary) return JSON.parse(summary) as Stored;
  } catch {
    // as if it was never computed
  }
  return { coverage: null, snags: [] };
}

function plainOf(error: unknown): PlainError {
  if (!(error instanceof StudioError)) return toPlainError(error);
  const { code, message, remedy } = error;
  return { code, message, remedy };
}
