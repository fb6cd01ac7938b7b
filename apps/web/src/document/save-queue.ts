import type { Edit, HistoryEntry } from '@lithe-sieve/contract';
import type { Stroke } from '@lithe-sieve/core';
import { makeId } from './ids';

/** A change waiting to be sent; its base revision is known once all before it are answered. */
export type PendingEdit =
  /** `strokes`: those that the change is the first to name. */
  { kind: 'do'; entry: HistoryEntry; strokes?: Stroke[] } | { kind: 'undo' } | { kind: 'redo' };

type Waiting = PendingEdit & { editId: string };

export type SaveState = 'saved' | 'saving' | 'waiting';

export interface SaveHost {
  send(edit: Edit): Promise<{ revision: number }>;
  /** Keeps a change where it outlives the page, until it is confirmed. A failure to keep it holds nothing up. */
  keep(edit: Waiting, base: number): Promise<void>;
  confirmed(editId: string): void;
  onState(state: SaveState): void;
  /** The server holds a newer revision than the edit was made on: the queue stops. */
  onStale(): void;
  /** The server refused the edit for another reason: the queue stops. */
  onRefused(error: unknown): void;
  isStale(error: unknown): boolean;
  isUnreachable(error: unknown): boolean;
}

const RETRY_MS = 1500;

/** Sends changes one after the other, each on the revision that the one before it made; waits out a silent server. */
export class SaveQueue {
  private readonly waiting: { edit: Waiting; kept: Promise<void> }[] = [];
  private running = false;
  private stopped = false;

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
    if (this.stopped) return;
    const named = { ...edit, editId: makeId() };
    const kept = this.host.keep(named, this.revision + this.waiting.length).catch(() => undefined);
    this.waiting.push({ edit: named, kept });
    void this.run();
  }

  private async run(): Promise<void> {
    if (this.running) return;
    this.running = true;
    while (this.waiting.length > 0 && !this.stopped) {
      this.host.onState('saving');
      try {
        const { edit, kept } = this.waiting[0];
        await kept;
        this.revision = (await this.host.send({ ...edit, baseRevision: this.revision })).revision;
        this.waiting.shift();
        this.host.confirmed(edit.editId);
      } catch (error) {
        if (this.host.isUnreachable(error)) {
          this.host.onState('waiting');
          await new Promise((resolve) => setTimeout(resolve, RETRY_MS));
          continue;
        }
        this.stopped = true;
        for (const { edit } of this.waiting) this.host.confirmed(edit.editId); // kept aside, or refused for good
        if (this.host.isStale(error)) this.host.onStale();
        else this.host.onRefused(error);
      }
    }
    this.running = false;
    if (!this.stopped) this.host.onState('saved');
  }
}
