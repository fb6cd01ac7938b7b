import {
  halvingsTo,
  toPlainError,
  type Box,
  type BrushStroke,
  type Channel,
  type Mask,
  type Picture,
  type PieceDoc,
  type PlainError,
  type ProfileId,
  type SourceRef,
  type Stroke,
} from '@lithe-sieve/core';
import { fetchSourceBytes } from '../api/sources.api';
import type { Answer, ColourResult, MaskResult, PaintedMessage, RunRequest, Thumb, ViewResult } from '../workers/types';
import type { Layer } from '../workers/layered';
import { endSide, makeSide } from './side';

/** Longest side of what first updates are computed on. */
const VIEW_SIDE = 512;

/** What the engine tells its owner; all of it may come in any order, newest last. */
export interface EngineEvents {
  /** @param thumbsOnly - The mask is shown at full size already. */
  view(result: ViewResult, thumbsOnly: boolean): void;
  mask(result: MaskResult): void;
  colour(result: ColourResult): void;
  /** Parts of the shown mask were painted into, at full size. */
  painted(mask: Mask, boxes: Box[]): void;
  /** True while something newer than what is shown is being computed at full size. */
  busy(value: boolean): void;
  failed(error: { code: string; message: string; remedy: string }): void;
}

/**
 * Two workers and the traffic to them. A change is first computed at view size, then in full; anything under way for
 * an older change is given up at its next band of rows.
 */
export class Engine {
  private readonly full = makeSide();
  private readonly strokes = new Set<string>();
  private readonly tips = new Set<string>();
  private readonly view = makeSide();
  private readonly loading = new Map<string, Promise<Picture>>();
  private halvings = 0;
  private pending: PieceDoc | null = null;
  private viewBusy = false;
  private settleTimer: ReturnType<typeof setTimeout> | undefined;
  private settledOnce = false;
  private wanted = '';
  private edits = 0;
  /** The newest document. */
  private asked: PieceDoc | null = null;
  /** The document without its strokes, as it was asked for last. */
  private rest = '';
  /** The change was made by hand: the full size is there before the view size could be shown. */
  private thumbsOnly = false;

  constructor(private readonly events: EngineEvents) {
    this.full.worker.addEventListener('message', ({ data }: MessageEvent<Partial<PaintedMessage>>) => {
      if (data.tell === 'painted') events.painted(data.mask!, data.boxes!);
    });
    for (const { worker } of [this.full, this.view]) {
      // its script did not come, or it broke down outside of a task: none of its answers will
      worker.addEventListener('error', ({ message }) => this.fail(asPlain(new Error(message || 'a worker ended'))));
    }
  }

  /** What was asked last cannot be computed: nothing is under way any more, and the next request computes again. */
  private fail(error: PlainError): void {
    this.wanted = '';
    this.pending = null;
    this.events.failed(error);
    this.events.busy(false);
  }

  /** What was done by hand; each stroke is sent once. */
  learn(strokes: ReadonlyMap<string, Stroke>): void {
    const fresh = [...strokes.values()].filter((s) => !this.strokes.has(s.id));
    if (fresh.length === 0) return;
    for (const stroke of fresh) {
      this.strokes.add(stroke.id);
      if (stroke.kind === 'brush' && stroke.brush.tip === 'piece') this.tips.add(stroke.brush.picture);
    }
    const plain = JSON.parse(JSON.stringify(fresh)) as Stroke[];
    void this.full.remote.learn(plain);
    void this.view.remote.learn(plain);
  }

  /** Makes the picture of a brush's tip ready on both sides. */
  async bringTip(sha256: string): Promise<void> {
    this.tips.add(sha256);
    await this.view.remote.adoptTip(sha256, await this.picture(sha256));
  }

  private async bringTips(): Promise<void> {
    for (const sha256 of this.tips) await this.bringTip(sha256);
  }

  /** A stroke begins; whatever is computed in full gives way. Resolves to why it cannot, or to null. */
  async paintBegin(doc: PieceDoc, stepId: string, stroke: BrushStroke): Promise<PlainError | null> {
    clearTimeout(this.settleTimer);
    const token = Atomics.add(this.full.newest, 0, 1) + 1;
    const answer = await this.full.remote.paintBegin(requestOf(doc, token, this.edits), stepId, stroke);
    return answer && !answer.ok ? answer.error : null;
  }

  paintPoints(path: Int32Array): void {
    void this.full.remote.paintPoints(path);
  }

  /** @param stroke - Whole, about to become part of the document; null: it is taken back. */
  paintEnd(stroke: BrushStroke | null): void {
    void this.full.remote.paintEnd(stroke);
    if (!stroke && this.asked) void this.settle(this.asked, true); // what it had interrupted goes on
  }

  /** The mask as it comes into a step; null where a change overtook it. */
  async maskBefore(doc: PieceDoc, stepId: string): Promise<Mask[] | null> {
    const answer = await this.full.remote.maskBefore(requestOf(doc, 0, this.edits), stepId);
    return answer?.ok ? answer.value : null;
  }

  /**
   * Decodes a file while it is on its way to the server, and computes ahead what a piece made of it asks first. Resolves
   * when that is done; a file that cannot be read is left for the server to say.
   */
  async prepare(file: Blob): Promise<void> {
    const bytes = await file.arrayBuffer();
    const sha256 = hex(await crypto.subtle.digest('SHA-256', bytes));
    const picture = this.remember(sha256, this.decode(sha256, new Uint8Array(bytes)));
    await this.adopt(sha256, await picture, true);
    await this.full.remote.rehearse(sha256);
  }

  /** Makes the pictures of these sources ready on both sides. The first one sets the scale of the view. */
  async load(sources: readonly SourceRef[]): Promise<void> {
    await this.bringTips();
    for (const [i, { sha256, fileName }] of sources.entries()) {
      const picture = await this.picture(sha256).catch((error: Error) => {
        throw Object.assign(new Error(`${fileName}: ${error.message}`), {
          remedy: (error as { remedy?: string }).remedy,
        });
      });
      await this.adopt(sha256, picture, i === 0);
    }
    this.forgetOthers([...sources.map((s) => s.sha256), ...this.tips]);
  }

  private async adopt(sha256: string, picture: Picture, first: boolean): Promise<void> {
    if (first) this.halvings = halvingsTo(VIEW_SIDE, picture);
    await this.view.remote.adopt(sha256, picture, this.halvings);
  }

  /** Pictures of pieces and sources that were left; one that comes back is decoded again. */
  private forgetOthers(kept: string[]): void {
    for (const sha256 of this.loading.keys()) if (!kept.includes(sha256)) this.loading.delete(sha256);
    void this.full.remote.keepOnly(kept);
    void this.view.remote.keepOnly(kept);
  }

  picture(sha256: string): Promise<Picture> {
    return this.loading.get(sha256) ?? this.remember(sha256, this.decode(sha256, fetchSourceBytes(sha256)));
  }

  private remember(sha256: string, picture: Promise<Picture>): Promise<Picture> {
    picture.catch(() => this.loading.delete(sha256));
    this.loading.set(sha256, picture);
    return picture;
  }

  private async decode(sha256: string, bytes: Uint8Array | Promise<Uint8Array>): Promise<Picture> {
    const answer = await this.full.remote.prepare(sha256, await bytes);
    if (answer?.ok) return answer.value;
    throw answer ? Object.assign(new Error(answer.error.message), answer.error) : new Error('cancelled');
  }

  thumb(sha256: string): Promise<Thumb | null> {
    return this.view.remote.thumb(sha256);
  }

  /** The pictures of a layered file as files of their own; null where it is none. */
  async layersOf(file: Blob): Promise<Layer[] | null> {
    const answer = await this.full.remote.layersOf(new Uint8Array(await file.arrayBuffer()));
    if (answer && !answer.ok) throw Object.assign(new Error(answer.error.message), answer.error);
    return answer?.value ?? null;
  }

  /** The mask of a piece, computed in full, as a grey PNG. */
  async maskFileOf(doc: PieceDoc, byHand: readonly Stroke[]): Promise<Uint8Array> {
    this.learn(new Map(byHand.map((s) => [s.id, s])));
    await this.bringTips();
    for (const { sha256 } of doc.sources) await this.picture(sha256);
    const answer = await this.full.remote.maskFile(requestOf(doc, Atomics.load(this.full.newest, 0), 0));
    if (answer?.ok) return answer.value;
    throw new Error(answer ? answer.error.message : 'It was overtaken by a change here. Choose it again.');
  }

  channelThumbs(sha256: string): Promise<{ name: Channel; thumb: Thumb }[]> {
    return this.view.remote.channelThumbs(sha256);
  }

  /** Computes this document; call as often as it changes. Results say which edit they answer: the number returned. */
  request(doc: PieceDoc): number {
    const wanted = JSON.stringify([doc.run, doc.sources]);
    if (wanted === this.wanted) return this.edits; // the end of a drag says what its last move said
    this.edits++;
    this.wanted = wanted;
    const rest = withoutStrokes(doc);
    const byHand = this.settledOnce && rest === this.rest;
    this.rest = rest;
    this.pending = doc;
    this.asked = doc;
    this.thumbsOnly = byHand;
    Atomics.add(this.full.newest, 0, 1); // what is under way in full is old now
    this.events.busy(true);
    clearTimeout(this.settleTimer);
    const atOnce = byHand || !this.settledOnce; // by hand it is a few tiles; the first time there is nothing to wait for
    if (atOnce) void this.settle(doc, byHand);
    if (!byHand) void this.pumpView(atOnce ? null : SETTLE_MS);
    this.settledOnce = true;
    return this.edits;
  }

  /** @param settleAfter - Pause before the full size is computed; null where that is under way already. */
  private async pumpView(settleAfter: number | null): Promise<void> {
    if (this.viewBusy || !this.pending) return;
    this.viewBusy = true;
    const doc = this.pending;
    this.pending = null;
    const token = Atomics.add(this.view.newest, 0, 1) + 1;
    const { thumbsOnly } = this;
    const view = this.view.remote.view(requestOf(doc, token, this.edits));
    await this.take(view, (r) => this.events.view(r, thumbsOnly));
    this.viewBusy = false;
    if (this.pending) void this.pumpView(this.thumbsOnly ? null : SETTLE_MS);
    else if (settleAfter !== null) this.settleTimer = setTimeout(() => void this.settle(doc), settleAfter);
  }

  /** @param byHand - The next stroke may follow at once: what only follows from the mask waits for a pause. */
  private async settle(doc: PieceDoc, byHand = false): Promise<void> {
    const token = Atomics.add(this.full.newest, 0, 1) + 1;
    const overtaken = () => Atomics.load(this.full.newest, 0) !== token;
    const request = requestOf(doc, token, this.edits);
    // sent at once, before the page is drawn anew: what is under way for an older change gives up by itself
    if (!(await this.take(this.full.remote.mask(request), (r) => this.events.mask(r))) || overtaken()) return;
    if (byHand) {
      await new Promise((resolve) => setTimeout(resolve, BY_HAND_PAUSE_MS));
      if (overtaken()) return;
      void this.pumpView(null);
    }
    if (!(await this.take(this.full.remote.colour(request), (r) => this.events.colour(r)))) return;
    if (!overtaken()) this.events.busy(false);
  }

  /** @returns whether there is a result; one that was overtaken is none, and a failure has been reported. */
  private async take<T>(asked: Promise<Answer<T>>, use: (value: T) => void): Promise<boolean> {
    const answer = await asked.catch((error: unknown): Answer<T> => ({ ok: false, error: asPlain(error) }));
    if (answer === null) return false;
    if (answer.ok) use(answer.value);
    else this.fail(answer.error);
    return answer.ok;
  }

  /** Of the run that is computed in full, 0–1. */
  get progress(): number {
    return Atomics.load(this.full.newest, 1) / 1000;
  }

  fingerprints(): Promise<{ mask: string; colour: string } | null> {
    return this.full.remote.fingerprints();
  }

  estimate(profile: ProfileId): Promise<number[]> {
    return this.full.remote.estimate(profile);
  }

  /** Ends both workers; the engine cannot be used after. */
  stop(): void {
    clearTimeout(this.settleTimer);
    for (const side of [this.full, this.view]) endSide(side);
  }
}

/** An error in the words of who waits for the result. */
function asPlain(error: unknown): PlainError {
  const { code, message, remedy } = toPlainError(error);
  return { code, message: `This could not be computed here: ${message}.`, remedy };
}

/** What a change by hand leaves as it is. */
function withoutStrokes({ run, sources }: PieceDoc): string {
  return JSON.stringify([run.map((s) => (s.kind === 'strokes' ? { ...s, params: {} } : s)), sources]);
}

function hex(digest: ArrayBuffer): string {
  return Array.from(new Uint8Array(digest), (byte) => byte.toString(16).padStart(2, '0')).join('');
}

/** Pause after the last change before the full size is computed; a drag sends changes faster than this. */
const SETTLE_MS = 70;

/** Between strokes that follow each other. */
const BY_HAND_PAUSE_MS = 220;

function requestOf(doc: PieceDoc, token: number, edit: number): RunRequest {
  return {
    token,
    edit,
    run: JSON.parse(JSON.stringify(doc.run)) as RunRequest['run'], // plain: proxies do not cross to a worker
    sources: doc.sources.map(({ id, sha256, place }) => ({ id, sha256, ...(place ? { place: { ...place } } : {}) })),
  };
}
