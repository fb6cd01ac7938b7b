import type { Output } from '@lithe-sieve/contract';
import { toPlainError, type PieceDoc } from '@lithe-sieve/core';
import type { HandedOff } from '@lithe-sieve/host';
import type { Logger } from 'pino';
import type { Database } from '../../db/database.ts';
import { OutputEntity, type OutputRow } from '../../db/entities/output.ts';
import { StorageError } from '../../db/storage-error.ts';
import { StudioError } from '../../studio-error.ts';
import type { FoldersService } from '../folders/folders.service.ts';
import type { JobsService } from '../handoffs/jobs.service.ts';
import type { PiecesService } from '../pieces/pieces.service.ts';
import { putBeside, swapIn, type Held, type Pending } from './swap.ts';

/** Edits have settled when none came for so long. */
const SETTLED_MS = 1200;

interface Live {
  timer?: NodeJS.Timeout;
  abort?: AbortController;
  /** What runs, to be waited for: one after the other. */
  work: Promise<void>;
  state: Output['state'];
  error: Output['error'];
}

/** Folders that are kept current: each settled edit of a piece writes its hand-off again, all files of one revision or none. */
export class OutputsService {
  private readonly live = new Map<string, Live>();
  private stopping = false;

  constructor(
    private readonly db: Database,
    private readonly pieces: PiecesService,
    private readonly jobs: JobsService,
    private readonly folders: FoldersService,
    private readonly log: Logger,
    private readonly settledMs = SETTLED_MS,
  ) {}

  /** Ends what a stop interrupted, and looks whether each folder is current. */
  async start(): Promise<void> {
    for (const row of await this.db.read((m) => m.find(OutputEntity))) {
      this.live.set(row.pieceId, idle());
      this.changed(row.pieceId);
    }
  }

  async stop(): Promise<void> {
    this.stopping = true;
    for (const { timer, abort } of this.live.values()) {
      clearTimeout(timer);
      abort?.abort();
    }
    await Promise.all([...this.live.values()].map((live) => live.work));
  }

  async of(pieceId: string): Promise<Output | null> {
    const row = await this.row(pieceId);
    if (!row) return null;
    const { state, error } = this.live.get(pieceId) ?? { state: 'waiting' as const, error: null };
    const held = read<Held>(row.written);
    return {
      folder: row.folder,
      state,
      error,
      revision: held?.revision ?? null,
      files: held?.files.map((f) => f.name) ?? [],
    };
  }

  /** @throws StudioError where the folder is not allowed, or is none, or the piece is not there. */
  async set(pieceId: string, path: string): Promise<Output> {
    await this.pieces.open(pieceId);
    const folder = await this.placeOf(path);
    await this.end(pieceId);
    await this.db.write((m) => m.upsert(OutputEntity, { pieceId, folder, written: null, pending: null }, ['pieceId']));
    this.live.set(pieceId, idle());
    this.begin(pieceId, 0);
    return (await this.of(pieceId))!;
  }

  /** What lies there stays there. */
  async end(pieceId: string): Promise<void> {
    const live = this.live.get(pieceId);
    clearTimeout(live?.timer);
    live?.abort?.abort();
    this.live.delete(pieceId);
    await live?.work;
    await this.db.write((m) => m.delete(OutputEntity, { pieceId }));
  }

  /** A piece has a new revision. */
  changed(pieceId: string): void {
    this.begin(pieceId, this.settledMs);
  }

  private begin(pieceId: string, after: number): void {
    const live = this.live.get(pieceId);
    if (!live || this.stopping) return;
    clearTimeout(live.timer);
    live.abort?.abort(); // what it would write is not the newest any more
    Object.assign(live, { state: 'waiting', error: null });
    live.timer = setTimeout(() => {
      live.work = live.work.then(() => this.write(pieceId, live));
    }, after);
  }

  private async write(pieceId: string, live: Live): Promise<void> {
    const abort = new AbortController();
    live.abort = abort;
    try {
      const row = await this.row(pieceId);
      if (!row) return;
      const folder = await this.placeOf(row.folder);
      await this.recover(row, folder);
      const { doc, revision } = await this.pieces.open(pieceId);
      const held = read<Held>((await this.row(pieceId))?.written ?? null);
      if (held?.revision !== revision) {
        live.state = 'writing';
        const made = await this.jobs.perform(doc, revision, abort.signal);
        assertReads(doc, made);
        abort.signal.throwIfAborted();
        await this.put(pieceId, folder, { revision, made, held });
        this.log.info({ piece: pieceId, revision, folder }, 'a folder is current');
      }
      if (!abort.signal.aborted) live.state = 'current';
    } catch (error) {
      if (this.stopping || abort.signal.aborted) return; // a newer revision is on its way
      Object.assign(live, { state: 'paused', error: plain(error) });
      this.log.warn({ piece: pieceId, err: error }, 'a folder is not current');
    }
  }

  /** Written beside, written down, renamed: whatever stops it, the folder holds one revision, or gets it at the next start. */
  private async put(
    pieceId: string,
    folder: string,
    { revision, made, held }: { revision: number; made: HandedOff; held: Held | null },
  ): Promise<void> {
    const files = await putBeside(folder, made.files, held);
    const drop = (held?.files ?? []).filter((f) => !files.some((g) => g.name === f.name));
    const pending: Pending = { revision, files, drop };
    await this.db.write((m) => m.update(OutputEntity, { pieceId }, { pending: JSON.stringify(pending) }));
    await this.takeIn(pieceId, folder, pending, held);
  }

  private async recover({ pieceId, pending, written }: OutputRow, folder: string): Promise<void> {
    const left = read<Pending>(pending);
    if (left) await this.takeIn(pieceId, folder, left, read<Held>(written));
  }

  private async takeIn(pieceId: string, folder: string, pending: Pending, held: Held | null): Promise<void> {
    await swapIn(folder, pending, held);
    const { revision, files } = pending;
    const written = JSON.stringify({ revision, files } satisfies Held);
    await this.db.write((m) => m.update(OutputEntity, { pieceId }, { written, pending: null }));
  }

  /** The true place of an allowed folder. */
  private async placeOf(path: string): Promise<string> {
    const { handle, stats, real } = await this.folders.open(path);
    await handle.close();
    if (stats.isDirectory()) return real;
    throw new StudioError('refused', 'no-folder', `${path} is no folder.`, 'Choose a folder.');
  }

  private row(pieceId: string): Promise<OutputRow | null> {
    return this.db.read((m) => m.findOneBy(OutputEntity, { pieceId }));
  }
}

const idle = (): Live => ({ state: 'waiting', error: null, work: Promise.resolve() });

/** @throws StudioError where a check failed, or a target of the profile would show something else. */
function assertReads({ handOff }: PieceDoc, { checks, receivers }: HandedOff): void {
  const failed = checks.find((c) => !c.ok);
  const differs = receivers.find((r) => r.meant && !r.agrees);
  if (!failed && !differs) return;
  throw new StudioError(
    'refused',
    'target-breaks',
    failed ? `${failed.file}: ${failed.what}: ${failed.found}.` : `${differs!.label}: ${differs!.words}`,
    (failed ? '' : differs!.remedy) || `Mend it, or choose another profile than ${handOff.profile}.`,
  );
}

function plain(error: unknown): NonNullable<Output['error']> {
  if (error instanceof StudioError || error instanceof StorageError) {
    return { code: error.code, message: error.message, remedy: error.remedy };
  }
  const { code } = error as NodeJS.ErrnoException;
  if (code === 'ENOSPC') return { code, message: 'The disk is full.', remedy: 'Make room, and change something.' };
  if (code === 'EACCES' || code === 'EPERM' || code === 'EROFS') {
    return { code, message: 'The folder cannot be written to.', remedy: 'May this user write there?' };
  }
  return toPlainError(error);
}

function read<T>(text: string | null): T | null {
  try {
    return text === null ? null : (JSON.parse(text) as T);
  } catch {
    return null;
  }
}
