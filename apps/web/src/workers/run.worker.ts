import {
  evaluateRun,
  fingerprint,
  frameOf,
  isHandStep,
  isPointwise,
  mainColours,
  makeMask,
  makeRunCache,
  packAtlas,
  runHostOf,
  partOf,
  mapsOf,
  maskMips,
  SieveError,
  stepKind,
  strokesOf,
  writePng,
  type AtlasPacking,
  type BrushStroke,
  type Channel,
  type Histogram,
  type Mask,
  type Picture,
  type FilePlan,
  type Raster,
  type Recipe,
  type Rgb,
  type RunHost,
  type RunResult,
  type RunSource,
  type Stroke,
  type StrokePainter,
  type SurfaceFacts,
} from '@lithe-sieve/core';
import * as Comlink from 'comlink';
import { answer } from './answer';
import { browserPlatform } from './browser-platform';
import { FirstAnswer } from './first-answer';
import { estimateSizes } from './estimate';
import { deflateHere, isOpenRaster, openRasterLayers, type Layer } from './layered';
import { LiveHeights, plainUnder } from './live-heights';
import { allocate } from './memory';
import { MANY_STROKES, Painting } from './painting';
import { beat } from './beat';
import { Pictures } from './pictures';
import { Results } from './results';
import { DONE, HEARTBEAT, NEWEST, SHARED_BYTES, STEP } from './shared-places';
import { viewFile } from './view-file';
import type { Answer, MapsResult, MaskResult, PaintedMessage, PartFile, RunRequest, Thumb, ViewResult } from './types';

const CACHE_BYTES = 400 * 1024 * 1024;

/**
 * Runs core off the main thread. Two of these live beside each other: one has the sources at full size, the other at
 * view size for first updates.
 */
class RunWorker {
  private readonly pictures = new Pictures();
  private readonly cache = makeRunCache(CACHE_BYTES);
  private newest = new Int32Array(SHARED_BYTES / 4);
  /** The run that was asked for; what is evaluated may be a part of it. */
  private askedRun: RunRequest['run'] = [];
  private lastRun: RunResult | null = null;
  /** Computed whole already when its mask was asked for. */
  private whole: { turn: number; run: RunResult } | null = null;
  /** Draws the stroke under way. */
  private live: StrokePainter | null = null;
  /** Where the stroke is one on the heights. */
  private liveHeights: LiveHeights | null = null;
  private readonly painting = new Painting((data, { width, height }, change) => {
    if (!this.live) return;
    const { liveHeights: heights } = this;
    if (heights && change !== 'whole') heights.refresh(data, change);
    const news = heights
      ? { map: 'height' as const, level: heights.level }
      : { map: 'mask' as const, level: makeMask(width, height, data) };
    postMessage({ type: 'painted', ...news, change } satisfies PaintedMessage);
  });
  private readonly results = new Results(this.painting);
  private readonly firstAnswer = new FirstAnswer();

  /** @param newest - Shared: the newest turn, see {@link RunRequest}, and thousandths done of the one under way. */
  attach(newest: Int32Array): void {
    this.newest = newest as Int32Array<ArrayBuffer>;
    beat(newest);
  }

  /** Decodes a file and keeps its picture. */
  prepare(sha256: string, bytes: Uint8Array): Promise<Answer<Picture>> {
    return answer(() => this.pictures.decode(sha256, bytes));
  }

  /** Computes ahead the mask that a new piece of this picture alone will ask for. */
  async rehearse(sha256: string): Promise<void> {
    const run = this.pictures.takeStartingRun(sha256);
    if (run) await this.mask({ turn: this.turn, run, sources: [{ id: 'source', sha256 }] });
  }

  useHalvings(halvings: number): void {
    this.pictures.useHalvings(halvings);
  }

  /** The picture of a recipe. */
  grow(key: string, recipe: Recipe): Promise<Answer<Picture>> {
    return answer(() => this.pictures.grown(key, recipe, () => undefined).picture);
  }

  adopt(sha256: string, picture: Picture, halvings: number): void {
    this.pictures.adopt(sha256, picture, halvings);
  }

  adoptTip(sha256: string, picture: Picture): void {
    this.pictures.adoptTip(sha256, picture);
  }

  adoptRelief(sha256: string, raster: Raster<Uint16Array>): void {
    this.pictures.adoptRelief(sha256, raster);
  }

  /** All samples of a file of 16 bits that was decoded here. */
  reliefOf(sha256: string): Raster<Uint16Array> | undefined {
    return this.pictures.deepOf(sha256);
  }

  /** Lays the parts of an atlas, which are here, side by side. */
  pack(recipe: Recipe, keep: boolean): Promise<Answer<AtlasPacking>> {
    return answer(() => {
      if (recipe.kind !== 'atlas') throw new SieveError('unsupported', 'This is no atlas.');
      return packAtlas(recipe, { pictureOf: (part) => this.pictures.get(part), keep, checkpoint: () => undefined });
    });
  }

  keepOnly(sha256s: string[]): void {
    this.pictures.keepOnly(sha256s);
  }

  /** The mask steps alone, so that the mask is there before the steps after them are done. */
  mask(request: RunRequest): Promise<Answer<MaskResult>> {
    return answer(async () => {
      this.whole = null; // one that was overtaken holds all its maps
      this.askedRun = request.run;
      const asked = maskStretch(request);
      await this.restorePainted(asked, request);
      const run = this.evaluate(asked);
      if (asked === request) this.whole = { turn: request.turn, run };
      const result = this.results.maskOf(run, request.turn, this.pictures.scale);
      this.painting.saveLater();
      return result;
    });
  }

  /** All other maps. */
  maps(request: RunRequest): Promise<Answer<MapsResult>> {
    return answer(() => {
      const { whole } = this;
      this.whole = null;
      this.askedRun = request.run;
      this.lastRun = whole?.turn === request.turn ? whole.run : this.evaluate(request);
      return this.results.mapsOf(this.lastRun, () => this.endIfOvertaken(request.turn));
    });
  }

  /** How the mask after each step of the last full run is spread; null where a newer request came in between. */
  async counts(turn: number): Promise<{ stepId: string; counts: Histogram }[] | null> {
    const out: { stepId: string; counts: Histogram }[] = [];
    for (const { stepId, mask } of this.lastRun?.steps ?? []) {
      await new Promise((resolve) => setTimeout(resolve)); // requests that came meanwhile go first
      if (this.turn !== turn) return null;
      out.push({ stepId, counts: this.results.countsOf(mask) });
    }
    return out;
  }

  /** What checks need to know of the maps of the last full run; null where a newer request came in between. */
  async surface(turn: number): Promise<SurfaceFacts | null> {
    await new Promise((resolve) => setTimeout(resolve));
    return this.lastRun && this.turn === turn ? this.results.factsOf(this.lastRun) : null;
  }

  /** @param whole - Else only as far as the change against what was viewed before shows at once. */
  view(request: RunRequest, whole: boolean): Promise<Answer<ViewResult>> {
    return answer(async () => {
      this.askedRun = request.run;
      await this.restorePainted(request, request);
      const all = { end: request.run.length, draft: false, grownDraft: false };
      const { end, draft, grownDraft } = whole ? all : this.firstAnswer.endOf(request);
      const asked = { ...request, run: request.run.slice(0, end) };
      const result = this.evaluate(asked, this.sourcesOf(request, grownDraft), {
        keepStates: true,
        draftsFit: draft,
      });
      const counts = this.estimatedCounts(request);
      const rest = request.run.slice(end).map((s) => s.id);
      // first what may be overtaken: the mask counts as shown once it is made
      const wanted = () => this.endIfOvertaken(request.turn);
      const maps = this.results.mapsOf(result, wanted, rest, draft || grownDraft || rest.length > 0);
      return {
        mask: withCounts(this.results.maskOf(result, request.turn, this.pictures.scale), counts),
        maps,
        steps: this.results.stepsOf(result, asked.run),
        whole: end === all.end && !draft && !grownDraft,
      };
    });
  }

  /** What was done by hand in the piece. */
  learn(strokes: Stroke[]): void {
    this.painting.learn(strokes);
  }

  /** A stroke begins on top of a step, whose run is computed if it is not yet. @returns whether it could. */
  paintBegin(request: RunRequest, stepId: string, stroke: BrushStroke): Promise<Answer<boolean>> {
    return answer(() => {
      this.live = null;
      const upTo = request.run.findIndex((s) => s.id === stepId);
      const step = request.run[upTo];
      if (!isHandStep(step)) return false;
      const { steps } = this.evaluate({ ...request, run: request.run.slice(0, upTo + 1) });
      const painter = this.painting.painterOf(stepId, steps[upTo]);
      const tip = (sha256: string) => {
        const picture = this.pictures.get(sha256);
        if (picture) return picture;
        throw new SieveError('missing-source', 'The picture of the brush tip is missing.', 'Choose the tip again.');
      };
      const bands = (height: number, work: (y0: number, y1: number) => void) => work(0, height);
      const work = { allocate, bands, tip, scale: this.pictures.scale, checkpoint: () => undefined };
      this.liveHeights = null;
      if (step.kind === 'height-by-hand') {
        const before = this.evaluate({ ...request, run: request.run.slice(0, upTo) });
        const drawn = painter.paint(
          strokesOf(step.params.strokes, this.painting.strokes),
          { ...before, mask: plainUnder(before, step.params) },
          before.key,
          work,
        );
        this.liveHeights = new LiveHeights(before, step.params, drawn.data, work);
      }
      this.live = painter;
      painter.begin(stroke, work);
      painter.extend(stroke.path);
      return true;
    });
  }

  /** @param path - x, y, pressure of further points. */
  paintPoints(path: Int32Array): void {
    this.live?.extend(path);
  }

  /** @param stroke - Whole; null takes it back. */
  paintEnd(stroke: BrushStroke | null): void {
    if (stroke) this.live?.end(stroke);
    else this.live?.abandon();
    this.live = null;
    this.liveHeights = null;
  }

  /** The mask as it comes into a step, with its mip levels. */
  maskBefore(request: RunRequest, stepId: string): Promise<Answer<Mask[]>> {
    return answer(() => {
      const upTo = request.run.findIndex((s) => s.id === stepId);
      const { mask } = this.evaluate({ ...request, run: request.run.slice(0, upTo) });
      return [mask, ...maskMips(mask, allocate)];
    });
  }

  /** The mask of a run as a grey PNG, and how much of the card's width it takes up. */
  maskFile(request: RunRequest): Promise<Answer<{ bytes: Uint8Array; share: number }>> {
    return answer(async () => {
      const run = this.evaluate(maskStretch(request));
      return { bytes: await writePng(run.mask, deflateHere), share: frameOf(run).share };
    });
  }

  /** See {@link viewFile}. */
  viewPng(colour: Picture, mask: Mask, halvings: number): Promise<Answer<Uint8Array>> {
    return answer(() => viewFile(colour, mask, halvings));
  }

  /** What a piece comes to, for growing from. */
  partFile(request: RunRequest): Promise<Answer<PartFile>> {
    return answer(async () => {
      const { picture, relief, maps, share } = partOf(this.evaluate(request));
      return {
        bytes: await writePng(picture, deflateHere),
        relief: relief && (await writePng(relief, deflateHere)),
        maps,
        width: picture.width,
        height: picture.height,
        share,
      };
    });
  }

  /** The two colours that a piece is mostly of. */
  coloursOf(request: RunRequest): Promise<Answer<[Rgb, Rgb]>> {
    return answer(() => {
      const colours = mainColours(partOf(this.evaluate(request)).picture);
      if (colours) return colours;
      throw new SieveError('unsupported', 'This piece keeps nothing opaque.', 'Choose another one.');
    });
  }

  thumb(sha256: string): Thumb | null {
    return this.pictures.thumb(sha256);
  }

  channelThumbs(sha256: string): { name: Channel; thumb: Thumb }[] {
    return this.pictures.channelThumbs(sha256);
  }

  /** The pictures of a layered file; null where it is none. */
  layersOf(bytes: Uint8Array): Promise<Answer<Layer[] | null>> {
    return answer(() => (isOpenRaster(bytes) ? openRasterLayers(bytes, browserPlatform) : null));
  }

  /** Fingerprint of every map of the last full result, by name: what a hand-off is compared with. */
  fingerprints(): Record<string, string> | null {
    const run = this.lastRun;
    return run && Object.fromEntries([...mapsOf(run)].map(([map, raster]) => [map, fingerprint(raster)]));
  }

  /** About how many bytes each file of a profile will have. */
  async estimate(plans: readonly FilePlan[], mask: Mask | null): Promise<(number | null)[]> {
    return this.lastRun ? estimateSizes(mask ? { ...this.lastRun, mask } : this.lastRun, plans) : [];
  }

  /** Steps of many strokes are taken from what this browser kept of them. */
  private async restorePainted(request: RunRequest, whole: RunRequest): Promise<void> {
    this.painting.keepOnly(new Set(whole.run.map((s) => s.id)));
    for (const [i, step] of request.run.entries()) {
      if (!isHandStep(step) || !step.on || step.params.strokes.length < MANY_STROKES) continue;
      if (this.painting.knows(step.id)) continue;
      await this.painting.restore(step.id, this.evaluate({ ...request, run: request.run.slice(0, i) }));
    }
  }

  /** How the mask of the full size is spread, from texels picked out of it; null where that is no better than the view's. */
  private estimatedCounts(request: RunRequest): Histogram | null {
    const sources = isPointwise(request.run) && this.pictures.samplesOf(request);
    return sources ? this.results.countsOf(this.evaluate(maskStretch(request), sources).mask) : null;
  }

  private get turn(): number {
    return Atomics.load(this.newest, NEWEST);
  }

  private evaluate(request: RunRequest, sources = this.sourcesOf(request), how: Partial<RunHost> = {}): RunResult {
    const { turn, run } = request;
    const files = { sources, strokes: this.painting.strokes, tip: (sha256: string) => this.pictures.get(sha256) };
    const here: Partial<RunHost> = {
      painterOf: (stepId, state) => this.painting.painterOf(stepId, state),
      cache: this.cache,
      allocate,
      scale: this.pictures.scale,
      ...how,
      checkpoint: (step, share) => {
        this.lookUp((step + share) / run.length, 1 + this.askedRun.findIndex((s) => s.id === run[step]?.id));
        this.endIfOvertaken(turn);
      },
    };
    return evaluateRun(run, runHostOf(request, files, here));
  }

  private sourcesOf(request: RunRequest, draft = false): RunSource[] {
    const checkpoint = (share: number) => {
      this.lookUp(share, 0);
      this.endIfOvertaken(request.turn);
    };
    return this.pictures.sourcesOf(request, checkpoint, draft);
  }

  /** Shares how far it is. @param step - See {@link STEP}. */
  private lookUp(share: number, step: number): void {
    Atomics.store(this.newest, DONE, Math.round(1000 * share));
    Atomics.store(this.newest, STEP, step);
    Atomics.add(this.newest, HEARTBEAT, 1);
  }

  private endIfOvertaken(turn: number): void {
    if (this.turn !== turn) throw new SieveError('cancelled', 'Overtaken.');
  }
}

/** The result with other counts of its largest level. */
function withCounts(result: MaskResult, counts: Histogram | null): MaskResult {
  if (!counts) return result;
  const [top, ...others] = result.summary.levels;
  return { ...result, summary: { ...result.summary, levels: [{ ...top, counts }, ...others] } };
}

/** The first stretch alone, where nothing after it changes the mask. */
function maskStretch(request: RunRequest): RunRequest {
  const fits = request.run.some((s) => s.on && stepKind(s.kind).stretch === 'fit');
  if (fits) return request; // the fit lays all maps at once: computed for the mask alone it would be computed twice
  return { ...request, run: request.run.filter((s) => stepKind(s.kind).stretch === 'mask') };
}

export type RunWorkerApi = RunWorker;
Comlink.expose(new RunWorker());
