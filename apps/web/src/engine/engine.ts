import {
  type BrushStroke,
  type Channel,
  type Histogram,
  type Mask,
  type Picture,
  type PieceDoc,
  type PlainError,
  type FilePlan,
  type SourceRef,
  type Stroke,
  type SurfaceFacts,
} from '@lithe-sieve/core';
import type { Layer } from '../workers/layered';
import type { Answer, MapsResult, MaskResult, PaintedMessage, SmallSource, Thumb, ViewResult } from '../workers/types';
import { notComputed, valueOf } from './answered';
import { OtherPieces } from './other-pieces';
import { EnginePictures } from './pictures';
import { keyOf, keyWithoutStrokes, requestOf } from './request';
import { endSide, makeSide, type Side } from './side';
import { DONE, STEP } from '../workers/shared-places';
import { newestTurn, Turns } from './turns';
import { underWayAt, type UnderWay } from './under-way';
import { patienceMs, Watchdog } from './watchdog';

/** What the engine reports to its owner; all of it may come in any order, newest last. */
export interface EngineEvents {
  /** @param thumbsOnly - The mask is shown at full size already. */
  view(result: ViewResult, thumbsOnly: boolean): void;
  mask(result: MaskResult): void;
  maps(result: MapsResult): void;
  /** What checks need to know of the maps. */
  surface(facts: SurfaceFacts): void;
  /** How the mask after each step is spread, at full size. */
  counts(turn: number, steps: { stepId: string; counts: Histogram }[]): void;
  /** A map that is shown was painted into, at full size. */
  painted(news: Omit<PaintedMessage, 'type'>): void;
  /** True while something newer than what is shown is being computed at full size. */
  busy(value: boolean): void;
  failed(error: PlainError): void;
  /** A worker does not answer any more: this engine is of no use. */
  silent(): void;
}

/**
 * Two workers and the traffic to them. A change is first computed at view size, then in full; anything under way for
 * an older change is given up at its next band of rows.
 */
export class Engine {
  private readonly turns = new Turns();
  /** What pieces that are not open come to. */
  readonly others: OtherPieces;
  private readonly strokes = new Set<string>();
  private readonly pictures: EnginePictures;
  private readonly watchdog: Watchdog;
  private pending: PieceDoc | null = null;
  private viewBusy = false;
  /** What is computed at view size is the rest of a first answer: the next change does not wait for it. */
  private catchingUp = false;
  private settleTimer: ReturnType<typeof setTimeout> | undefined;
  private settledOnce = false;
  private wanted = '';
  /** The newest document, and the turn it was asked for with. */
  private asked: PieceDoc | null = null;
  private turn = 0;
  /** The document without its strokes, as it was asked for last. */
  private rest = '';
  /** The change was made by hand: the full size is there before the view size could be shown. */
  private thumbsOnly = false;

  constructor(
    private readonly events: EngineEvents,
    private readonly full: Side = makeSide(),
    private readonly view: Side = makeSide(),
  ) {
    this.pictures = new EnginePictures(full, view);
    this.others = new OtherPieces(full, this.pictures, (strokes) => this.learn(strokes));
    const patience = () => patienceMs(this.pictures.largest);
    this.watchdog = new Watchdog([full.newest, view.newest], patience, () => events.silent());
    full.worker.addEventListener('message', ({ data }: MessageEvent<Partial<PaintedMessage>>) => {
      if (data.type === 'painted') events.painted(data as PaintedMessage);
    });
    for (const { worker } of [full, view]) {
      // its script did not come, or it broke down outside of a task: none of its answers will
      worker.addEventListener('error', ({ message }) => this.fail(notComputed(new Error(message || 'a worker ended'))));
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
    for (const stroke of fresh) this.strokes.add(stroke.id);
    this.pictures.noteTips(fresh);
    const plain = JSON.parse(JSON.stringify(fresh)) as Stroke[];
    void this.full.remote.learn(plain);
    void this.view.remote.learn(plain);
  }

  /** Makes the picture of a brush's tip ready on both sides. */
  bringTip(sha256: string): Promise<void> {
    return this.pictures.bringTip(sha256);
  }

  /** Makes the pictures of these sources ready on both sides. */
  load(sources: readonly SourceRef[]): Promise<void> {
    return this.pictures.load(sources);
  }

  picture(sha256: string): Promise<Picture> {
    return this.pictures.picture(sha256);
  }

  /**
   * Decodes a file while it is on its way to the server, and computes ahead what a piece made of it asks first. Resolves
   * when that is done; a file that cannot be read is left for the server to report.
   */
  async prepare(file: Blob): Promise<void> {
    await this.full.remote.rehearse(await this.pictures.prepare(file));
  }

  /** A stroke begins; whatever is computed in full is cancelled. Resolves to why it cannot, or to null. */
  async paintBegin(doc: PieceDoc, stepId: string, stroke: BrushStroke): Promise<PlainError | null> {
    clearTimeout(this.settleTimer);
    const turn = this.turns.next(this.full.newest);
    const answer = await this.full.remote.paintBegin(requestOf(doc, turn), stepId, stroke);
    return answer && !answer.ok ? answer.error : null;
  }

  paintPoints(path: Int32Array): void {
    void this.full.remote.paintPoints(path);
  }

  /** @param stroke - Whole, about to become part of the document; null: it is taken back. */
  paintEnd(stroke: BrushStroke | null): void {
    void this.full.remote.paintEnd(stroke);
    if (stroke || !this.asked) return;
    this.turns.give(this.full.newest, this.turn); // what it had interrupted goes on
    void this.settle(this.asked, this.turn, true);
  }

  /** The mask as it comes into a step; null where a change overtook it. */
  async maskBefore(doc: PieceDoc, stepId: string): Promise<Mask[] | null> {
    const answer = await this.full.remote.maskBefore(requestOf(doc, newestTurn(this.full.newest)), stepId);
    return answer?.ok ? answer.value : null;
  }

  /** A source at a size that masks are proposed for; null where it is not ready. */
  smallPicture(sha256: string): Promise<SmallSource | null> {
    return this.view.remote.smallPicture(sha256);
  }

  thumb(sha256: string): Promise<Thumb | null> {
    return this.view.remote.thumb(sha256);
  }

  channelThumbs(sha256: string): Promise<{ name: Channel; thumb: Thumb }[]> {
    return this.view.remote.channelThumbs(sha256);
  }

  /** The pictures of a layered file as files of their own; null where it is none. */
  async layersOf(file: Blob): Promise<Layer[] | null> {
    return valueOf(await this.full.remote.layersOf(new Uint8Array(await file.arrayBuffer())));
  }

  /** Colour and alpha of a result at view size, as a PNG, see `workers/view-file.ts`; null where it cannot be had. */
  async viewFile(colour: Picture, mask: Mask, halvings: number): Promise<Uint8Array | null> {
    const answer = await this.full.remote.viewPng(colour, mask, halvings);
    return answer?.ok ? answer.value : null;
  }

  /**
   * Another piece: what is under way is wanted no longer, and the next document is computed even where it is the same.
   *
   * @returns the first turn that is not of the one before.
   */
  forget(): number {
    this.wanted = '';
    this.rest = '';
    this.pending = null;
    this.settledOnce = false;
    clearTimeout(this.settleTimer);
    this.turn = this.turns.next(this.full.newest);
    return this.turn;
  }

  /** Computes this document; call as often as it changes. Results carry the turn that is returned. */
  request(doc: PieceDoc): number {
    const wanted = keyOf(doc);
    if (wanted === this.wanted) return this.turn; // the end of a drag is the same as its last move
    this.wanted = wanted;
    const rest = keyWithoutStrokes(doc);
    const byHand = this.settledOnce && rest === this.rest;
    this.rest = rest;
    this.pending = doc;
    this.asked = doc;
    this.thumbsOnly = byHand;
    this.turn = this.turns.next(this.full.newest); // what is under way in full is old now
    if (this.catchingUp) this.turns.give(this.view.newest, this.turn);
    this.events.busy(true);
    clearTimeout(this.settleTimer);
    const atOnce = byHand || !this.settledOnce; // by hand it is a few tiles; the first time there is nothing to wait for
    if (atOnce) void this.settle(doc, this.turn, byHand);
    if (!byHand) void this.pumpView(atOnce ? null : SETTLE_MS);
    this.settledOnce = true;
    return this.turn;
  }

  /** @param settleAfter - Pause before the full size is computed; null where that is under way already. */
  private async pumpView(settleAfter: number | null): Promise<void> {
    if (this.viewBusy || !this.pending) return;
    this.viewBusy = true;
    const { pending: doc, turn, thumbsOnly } = this;
    this.pending = null;
    this.turns.give(this.view.newest, turn);
    const request = requestOf(doc, turn);
    let whole = true;
    const use = (result: ViewResult) => {
      whole = result.whole;
      this.events.view(result, thumbsOnly);
    };
    // what is being changed is shown first; the maps after it once nothing newer waits
    await this.take(this.view.remote.view(request, false), use);
    if (!whole && !this.pending) {
      this.catchingUp = true;
      await this.take(this.view.remote.view(request, true), use);
      this.catchingUp = false;
    }
    this.viewBusy = false;
    if (this.pending) void this.pumpView(this.thumbsOnly ? null : SETTLE_MS);
    else if (settleAfter !== null) this.settleTimer = setTimeout(() => void this.settle(doc, turn), settleAfter);
  }

  /** @param byHand - The next stroke may follow at once: what only follows from the mask waits for a pause. */
  private async settle(doc: PieceDoc, turn: number, byHand = false): Promise<void> {
    const overtaken = () => newestTurn(this.full.newest) !== turn;
    if (overtaken()) return;
    const request = requestOf(doc, turn);
    // sent at once, before the page is drawn again: what is under way for an older change gives up by itself
    if (!(await this.take(this.full.remote.mask(request), (r) => this.events.mask(r))) || overtaken()) return;
    if (byHand) {
      await new Promise((resolve) => setTimeout(resolve, BY_HAND_PAUSE_MS));
      if (overtaken()) return;
      void this.pumpView(null);
    }
    if (!(await this.take(this.full.remote.maps(request), (r) => this.events.maps(r))) || overtaken()) return;
    this.events.busy(false);
    const counts = await this.full.remote.counts(turn).catch(() => null); // the estimates stay
    if (counts && !overtaken()) this.events.counts(turn, counts);
    const surface = await this.full.remote.surface(turn).catch(() => null);
    if (surface && !overtaken()) this.events.surface(surface);
  }

  /** @returns whether there is a result; one that was overtaken is none, and a failure has been reported. */
  private async take<T>(asked: Promise<Answer<T>>, use: (value: T) => void): Promise<boolean> {
    const answer = await asked.catch((error: unknown): Answer<T> => ({ ok: false, error: notComputed(error) }));
    if (answer === null) return false;
    if (answer.ok) use(answer.value);
    else this.fail(answer.error);
    return answer.ok;
  }

  /** Share of the run that is computed in full, 0–1. */
  get progress(): number {
    return Atomics.load(this.full.newest, DONE) / 1000;
  }

  /** What is computed now of the document that was asked for last, in full or, at first, at view size. */
  get underWay(): UnderWay | null {
    const { asked, viewBusy } = this;
    if (!asked) return null;
    const at = Atomics.load((viewBusy ? this.view : this.full).newest, STEP);
    return underWayAt(asked, asked.run[at - 1]?.id ?? null);
  }

  fingerprints(): Promise<Record<string, string> | null> {
    return this.full.remote.fingerprints();
  }

  /** @param mask - What is handed off instead of the run's. */
  estimate(
    plans: readonly FilePlan[],
    mask: Mask | null,
    { sides }: Pick<PieceDoc, 'sides'>,
  ): Promise<(number | null)[]> {
    const plain = JSON.parse(JSON.stringify(plans)) as FilePlan[]; // channels filled by hand are proxies
    return this.full.remote.estimate(plain, mask, { sides: sides && { ...sides } });
  }

  /** Ends both workers; the engine cannot be used after. */
  stop(): void {
    clearTimeout(this.settleTimer);
    this.watchdog.stop();
    for (const side of [this.full, this.view]) endSide(side);
  }
}

/** Pause after the last change before the full size is computed; a drag sends changes faster than this. */
const SETTLE_MS = 70;
/** Between strokes that follow each other. */
const BY_HAND_PAUSE_MS = 220;
