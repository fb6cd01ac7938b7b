import { pieceDocSchema, type HistoryEntry, type WirePatch } from '@lithe-sieve/contract';
import { cutText, FOLLOWED_KEPT, LIMITS, thinFollowed, type PieceDoc } from '@lithe-sieve/core';
import { applyPatches, type Patch } from 'immer';
import { diffDocs } from './diff';
import { sharing } from './share';

/** A document is replaced whole, never edited. */
export type DocChange = (doc: PieceDoc) => PieceDoc;

/** What the end of a gesture came to. */
export type Finished = { kind: 'done'; entry: HistoryEntry } | { kind: 'nothing' } | { kind: 'not-valid' };

/**
 * A document and what was done to it. A gesture is `begin`, any number of `preview`, then `finish` (one entry) or
 * `abandon`; undo and redo go through the entries.
 */
export class DocHistory {
  /** Where the gesture under way began. */
  private mark: PieceDoc | null = null;
  /** The document before the newest change. */
  before: PieceDoc | null = null;

  constructor(
    public doc: PieceDoc,
    public entries: readonly HistoryEntry[],
    /** How many entries are done; the others can be redone. */
    public position: number,
  ) {}

  get inGesture(): boolean {
    return this.mark !== null;
  }

  begin(): void {
    this.mark ??= this.doc;
  }

  preview(change: DocChange): void {
    this.begin();
    this.doc = change(this.doc);
  }

  /** @param followed - Made by a followed file: of many in a row only the newest are kept one by one. */
  finish(label: string, followed = false): Finished {
    const from = this.mark;
    this.mark = null;
    if (!from || from === this.doc) return { kind: 'nothing' };
    const { patches, inverse } = diffDocs(from, this.doc);
    const valid = pieceDocSchema.safeParse(this.doc).success; // nothing that the server must refuse is ever sent
    if (patches.length === 0 || !valid) {
      this.doc = from;
      return { kind: valid ? 'nothing' : 'not-valid' };
    }
    const entry = { label: cutText(label, LIMITS.label), patches, inverse, ...(followed ? { followed } : {}) };
    this.before = from;
    this.entries = withEntry(this.entries.slice(0, this.position), entry);
    this.position = this.entries.length;
    return { kind: 'done', entry };
  }

  abandon(): void {
    if (this.mark) this.doc = this.mark;
    this.mark = null;
  }

  /** @returns the patches that undo; null where there is nothing to undo. */
  undo(): WirePatch[] | null {
    this.abandon();
    const entry = this.entries[this.position - 1];
    if (!entry) return null;
    this.take(entry.inverse, -1);
    return entry.inverse;
  }

  /** @returns the patches that redo; null where there is nothing to redo. */
  redo(): WirePatch[] | null {
    this.abandon();
    const entry = this.entries[this.position];
    if (!entry) return null;
    this.take(entry.patches, 1);
    return entry.patches;
  }

  private take(patches: readonly WirePatch[], by: 1 | -1): void {
    const next = patched(this.doc, patches);
    this.before = this.doc;
    this.doc = next;
    this.position += by;
  }

  /** Whether a change that names this text was undone. */
  undid(text: string): boolean {
    return this.entries.slice(this.position).some(({ patches }) => JSON.stringify(patches).includes(text));
  }
}

/** A history with one entry more, thinned as the server does it. */
function withEntry(before: readonly HistoryEntry[], entry: HistoryEntry): HistoryEntry[] {
  const all = [...before, entry];
  const joined = entry.followed ? thinFollowed(all) : null;
  if (joined) all.splice(-FOLLOWED_KEPT - 1, 2, joined);
  return all;
}

/** What lies in the history may be from before a parameter came: it gets its default, as on the server. */
export function patched(doc: PieceDoc, patches: readonly WirePatch[]): PieceDoc {
  return sharing(doc, pieceDocSchema.parse(applyPatches(doc, patches as Patch[])));
}
