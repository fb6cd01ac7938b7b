import type { Edit, HistoryEntry, WirePatch } from '@lithe-sieve/contract';
import type { Stroke } from '@lithe-sieve/core';
import { Backoff } from './backoff';
import { makeId } from './ids';

/** A change waiting to be sent; its base revision is known once all before it are answered. */
export type PendingEdit =
  /** `strokes`: those that the change is the first to name. */
  | { kind: 'do'; entry: HistoryEntry; strokes?: Stroke[] }
  /** `patches`: what going there does to the document, for a reader that has the change alone. */
  | { kind: 'undo' | 'redo'; patches: WirePatch[] };

type Waiting = PendingEdit & { editId: string };

/** How the changes of a piece stand: all on disk; on their way; not going through, with why and since when. */
export type SaveState =
  | { kind: 'saved' }
  | { kind: 'saving'; count: number }
  | { kind: 'waiting'; count: number; why: string; remedy: string; since: Date };

export interface SaveHost {
  send(edit: Edit): Promise<{ revision: number }>;
  /**
   * Keeps a change where it outlives the page, until it is confirmed. A failure to keep it holds nothing up.
   *
   * @param first - No other change was waiting.
   */
  keep(edit: Waiting, base: number, first: boolean): Promise<void>;
  confirmed(editId: string): void;
  onState(state: SaveState): void;
  /** The server can never take this change: nothing is sent any more until {@link SaveQueue.takeAll}. */
  onRefused(error: unknown): void;
  isRefusal(error: unknown): boolean;
}

/**
 * Sends changes one after the other, each on the revision that the one before it made. A change leaves the queue when
 * the server has confirmed it, and in no other way: what fails is tried again, for as long as it takes.
 */
export class SaveQueue {
  private readonly waiting: { edit: Waiting; kept: Promise<void> }[] = [];
  private readonly backoff = new Backoff();
  private running = false;
  private refused = false;
  private trouble: { why: string; remedy: string; since: Date } | null = null;

  constructor(
    private revision: number,
    private readonly host: SaveHost,
  ) {}

  get current(): number {
    return this.revision;
  }

  get empty(): boolean {
    return this.waiting.length === 0;
  }

  push(edit: PendingEdit): void {
    const named = { ...edit, editId: makeId() };
    const kept = this.host.keep(named, this.revision + this.waiting.length, this.empty).catch(() => undefined);
    this.waiting.push({ edit: named, kept });
    this.tell();
    void this.run();
  }

  /** Tries again at once. */
  tryNow(): void {
    this.backoff.now();
  }

  /** Ends the sending: the caller brings what waits to the server in another way. */
  refuse(error: unknown): void {
    if (this.refused) return; // it is being brought there already
    this.refused = true;
    this.note(error);
    this.host.onRefused(error);
  }

  /** Notes why nothing goes through, where somebody else than the queue tries. */
  note(error: unknown): void {
    const { message, remedy } = error as { message?: string; remedy?: string };
    const since = this.trouble?.since ?? new Date();
    this.trouble = { why: message ?? String(error), remedy: remedy ?? '', since };
    this.tell();
  }

  /** What waits, handed over: the queue is empty after it. */
  takeAll(): Waiting[] {
    const all = this.waiting.splice(0).map(({ edit }) => edit);
    this.trouble = null;
    this.tell();
    return all;
  }

  /** What waits, as it is. */
  look(): Waiting[] {
    return this.waiting.map(({ edit }) => edit);
  }

  private async run(): Promise<void> {
    if (this.running) return;
    this.running = true;
    while (this.waiting.length > 0 && !this.refused) {
      const { edit, kept } = this.waiting[0];
      try {
        await kept;
        const { revision } = await this.host.send({ ...onWire(edit), baseRevision: this.revision });
        this.revision = revision;
        this.waiting.shift();
        this.host.confirmed(edit.editId);
        this.trouble = null;
        this.backoff.reset();
        this.tell();
      } catch (error) {
        if (this.refused) break;
        if (this.host.isRefusal(error)) {
          this.refuse(error);
          break;
        }
        this.note(error);
        await this.backoff.pause();
      }
    }
    this.running = false;
  }

  private tell(): void {
    const count = this.waiting.length;
    if (count === 0) this.host.onState({ kind: 'saved' });
    else if (this.trouble) this.host.onState({ kind: 'waiting', count, ...this.trouble });
    else this.host.onState({ kind: 'saving', count });
  }
}

/** Without what only this browser reads. */
function onWire(
  edit: Waiting,
): { editId: string } & (Extract<PendingEdit, { kind: 'do' }> | { kind: 'undo' | 'redo' }) {
  if (edit.kind === 'do') return edit;
  const { kind, editId } = edit;
  return { kind, editId };
}
