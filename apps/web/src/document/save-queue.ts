import type { Edit, HistoryEntry } from '@lithe-sieve/contract';

/** A change waiting to be sent; its base revision is known once all before it are answered. */
export type PendingEdit = { kind: 'do'; entry: HistoryEntry } | { kind: 'undo' } | { kind: 'redo' };

export type SaveState = 'saved' | 'saving' | 'waiting';

export interface SaveHost {
  send(edit: Edit): Promise<{ revision: number }>;
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
  private readonly waiting: PendingEdit[] = [];
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
    this.waiting.push(edit);
    void this.run();
  }

  private async run(): Promise<void> {
    if (this.running) return;
    this.running = true;
    while (this.waiting.length > 0 && !this.stopped) {
      this.host.onState('saving');
      try {
        const edit = { ...this.waiting[0], baseRevision: this.revision };
        this.revision = (await this.host.send(edit)).revision;
        this.waiting.shift();
      } catch (error) {
        if (this.host.isUnreachable(error)) {
          this.host.onState('waiting');
          await new Promise((resolve) => setTimeout(resolve, RETRY_MS));
          continue;
        }
        this.stopped = true;
        if (this.host.isStale(error)) this.host.onStale();
        else this.host.onRefused(error);
      }
    }
    this.running = false;
    if (!this.stopped) this.host.onState('saved');
  }
}
