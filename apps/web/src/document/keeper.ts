import type { CopyPiece, Edit, Piece } from '@lithe-sieve/contract';
import { cutText, LIMITS, type PieceDoc, type Stroke } from '@lithe-sieve/core';
import { Backoff } from './backoff';
import { diffDocs } from './diff';
import { makeId } from './ids';
import type { Aside } from './journal';
import type { Kept } from './kept';
import { SaveQueue, type PendingEdit, type SaveState } from './save-queue';

/** What the keeper reaches the server and the browser's storage by. */
export interface KeeperTools {
  send(pieceId: string, edit: Edit): Promise<{ revision: number }>;
  copy(body: CopyPiece): Promise<{ id: string }>;
  open(pieceId: string): Promise<{ piece: Piece; strokes: Stroke[] }>;
  journal: {
    put(pieceId: string, base: number, edit: Kept['edit'], before: PieceDoc | null): Promise<void>;
    drop(editId: string): Promise<void>;
    setAside(aside: Omit<Aside, 'session'>, editIds: readonly string[], goesOn: boolean): Promise<void>;
    dropAside(id: string): Promise<void>;
  };
  isRefusal(error: unknown): boolean;
}

type Newest = Awaited<ReturnType<KeeperTools['open']>>;

/** Who has the piece open, or had. */
export interface KeeperHost {
  /** The document as it is now; as it was left, where it is not open any more. */
  doc(): PieceDoc;
  /** The document before the gesture that is being saved. */
  docBefore(): PieceDoc;
  /** Whether the piece is still what the page shows. */
  isOpen(): boolean;
  /** A drag is under way: nothing may be put in the place of the document now. */
  inGesture(): boolean;
  onState(state: SaveState): void;
  /** The refused version is a piece of its own; `newest` takes its place where the piece is still open. */
  onKeptAside(copyId: string, why: string, newest: Newest | null): void;
}

const GESTURE_MS = 100;

/**
 * Saves the changes of one piece. Where the server can never take one, the version of this page becomes a piece of its
 * own, with everything that was done until then; only then does it leave the browser.
 */
export class Keeper {
  readonly queue: SaveQueue;
  private readonly backoff = new Backoff();

  constructor(
    readonly pieceId: string,
    revision: number,
    private readonly tools: KeeperTools,
    private readonly host: KeeperHost,
  ) {
    this.queue = new SaveQueue(revision, {
      send: (edit) => tools.send(pieceId, edit),
      keep: (edit, base, first) => tools.journal.put(pieceId, base, edit, first ? host.docBefore() : null),
      confirmed: (editId) => void tools.journal.drop(editId).catch(() => undefined),
      onState: (state) => host.onState(state),
      onRefused: (error) => void this.keepAside((error as Error).message),
      isRefusal: (error) => tools.isRefusal(error),
    });
  }

  push(edit: PendingEdit): void {
    this.queue.push(edit);
  }

  tryNow(): void {
    this.queue.tryNow();
    this.backoff.now();
  }

  private async keepAside(why: string): Promise<void> {
    const { journal } = this.tools;
    const asideId = makeId();
    let doc = this.host.doc();
    const strokes = this.unsent();
    await journal
      .setAside({ id: asideId, pieceId: this.pieceId, doc: asCopy(doc), strokes, why }, idsOf(this.queue), true)
      .catch(() => undefined);
    const { id } = await this.insist(() => this.tools.copy({ id: asideId, doc: asCopy(doc), strokes }));
    let revision = 1;
    let newest: Newest | null = null;
    for (;;) {
      if (this.host.isOpen()) newest ??= await this.insist(() => this.tools.open(this.pieceId));
      const now = this.host.doc();
      const { patches, inverse } = diffDocs(asCopy(doc), asCopy(now));
      if (patches.length > 0) {
        // done meanwhile: it goes to the copy too
        const entry = { label: 'Changes of the other tab', patches, inverse };
        const baseRevision = revision;
        const edit: Edit = { kind: 'do', entry, baseRevision, editId: makeId(), strokes: this.unsent() };
        ({ revision } = await this.insist(() => this.tools.send(id, edit)));
        doc = now;
        newest = null;
      } else if (this.host.isOpen() && this.host.inGesture()) {
        await new Promise((resolve) => setTimeout(resolve, GESTURE_MS));
      } else break;
    }
    for (const { editId } of this.queue.takeAll()) void journal.drop(editId).catch(() => undefined);
    void journal.dropAside(asideId).catch(() => undefined);
    this.host.onKeptAside(id, why, newest);
  }

  /** Strokes of this page that the server may not have. */
  private unsent(): Stroke[] {
    return this.queue.look().flatMap((edit) => (edit.kind === 'do' ? (edit.strokes ?? []) : []));
  }

  /** Until it goes through. */
  private async insist<R>(attempt: () => Promise<R>): Promise<R> {
    for (;;) {
      try {
        const result = await attempt();
        this.backoff.reset();
        return result;
      } catch (error) {
        this.queue.note(error);
        await this.backoff.pause();
      }
    }
  }
}

const SIGN = ' (other tab)';

/** A version of a piece under a name of its own. */
export function asCopy(doc: PieceDoc): PieceDoc {
  return { ...doc, name: `${cutText(doc.name, LIMITS.pieceName - SIGN.length)}${SIGN}` };
}

function idsOf(queue: SaveQueue): string[] {
  return queue.look().map((edit) => edit.editId);
}
