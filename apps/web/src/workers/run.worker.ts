import {
  fingerprint,
  frameOf,
  mapOf,
  type MapName,
  mainColours,
  packAtlas,
  partOf,
  mapsOf,
  maskMips,
  SieveError,
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
  type RunResult,
  type Stroke,
  type SurfaceFacts,
  type PieceDoc,
} from '@lithe-sieve/core';
import * as Comlink from 'comlink';
import { answer } from './answer';
import { browserPlatform } from './browser-platform';
import { FirstAnswer } from './first-answer';
import { estimateSizes } from './estimate';
import { deflateHere } from './deflate-here';
import { isOpenRaster, openRasterLayers, type Layer } from './layered';
import { LiveStroke } from './live-stroke';
import { allocate } from './memory';
import { Painting } from './painting';
import { Pictures } from './pictures';
import { Results } from './results';
import { maskStretch, Runs } from './runs';
import { viewFile } from './view-file';
import type { Answer, MapsResult, MaskResult, PartFile, RunRequest, SmallSource, Thumb, ViewResult } from './types';

/**
 * Runs core off the main thread. Two of these live beside each other: one has the sources at full size, the other at
 * view size for first updates.
 */
class RunWorker {
  private readonly pictures = new Pictures();
  private readonly painting = new Painting((...news) => this.stroke.show(...news));
  private readonly runs = new Runs(this.pictures, this.painting);
  private readonly stroke = new LiveStroke(this.runs, this.painting, this.pictures);
  private readonly results = new Results(this.painting);
  private readonly firstAnswer = new FirstAnswer();
  private lastRun: RunResult | null = null;
  /** Computed whole already when its mask was asked for. */
  private whole: { turn: number; run: RunResult } | null = null;

  attach(newest: Int32Array): void {
    this.runs.attach(newest);
  }

  /** Decodes a file and keeps its picture. */
  prepare(sha256: string, bytes: Uint8Array): Promise<Answer<Picture>> {
    return answer(() => this.pictures.decode(sha256, bytes));
  }

  /** Computes ahead the mask that a new piece of this picture alone will ask for. */
  async rehearse(sha256: string): Promise<void> {
    const run = this.pictures.takeStartingRun(sha256);
    if (run) await this.mask({ turn: this.runs.turn, run, sources: [{ id: 'source', sha256 }] });
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
      this.runs.ask(request.run);
      const asked = maskStretch(request);
      await this.runs.restorePainted(asked, request);
      const run = this.runs.evaluate(asked);
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
      this.runs.ask(request.run);
      this.lastRun = whole?.turn === request.turn ? whole.run : this.runs.evaluate(request);
      return this.results.mapsOf(this.lastRun, () => this.runs.endIfOvertaken(request.turn));
    });
  }

  /** How the mask after each step of the last full run is spread; null where a newer request came in between. */
  async counts(turn: number): Promise<{ stepId: string; counts: Histogram }[] | null> {
    const out: { stepId: string; counts: Histogram }[] = [];
    for (const { stepId, mask } of this.lastRun?.steps ?? []) {
      await new Promise((resolve) => setTimeout(resolve)); // requests that came meanwhile go first
      if (this.runs.turn !== turn) return null;
      out.push({ stepId, counts: this.results.countsOf(mask) });
    }
    return out;
  }

  /** What checks need to know of the maps of the last full run; null where a newer request came in between. */
  async surface(turn: number): Promise<SurfaceFacts | null> {
    await new Promise((resolve) => setTimeout(resolve));
    return this.lastRun && this.runs.turn === turn ? this.results.factsOf(this.lastRun) : null;
  }

  /** @param whole - Else only as far as the change against what was viewed before shows at once. */
  view(request: RunRequest, whole: boolean): Promise<Answer<ViewResult>> {
    return answer(async () => {
      this.runs.ask(request.run);
      await this.runs.restorePainted(request, request);
      const all = { end: request.run.length, draft: false, grownDraft: false };
      const { end, draft, grownDraft } = whole ? all : this.firstAnswer.endOf(request);
      const asked = { ...request, run: request.run.slice(0, end) };
      const result = this.runs.evaluate(asked, this.runs.sourcesOf(request, grownDraft), {
        keepStates: true,
        draftsFit: draft,
      });
      const counts = this.runs.estimatedCounts(request, (mask) => this.results.countsOf(mask));
      const rest = request.run.slice(end).map((s) => s.id);
      // first what may be overtaken: the mask counts as shown once it is made
      const wanted = () => this.runs.endIfOvertaken(request.turn);
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

  /** A stroke begins on top of a step. @returns whether it could. */
  paintBegin(request: RunRequest, stepId: string, stroke: BrushStroke): Promise<Answer<boolean>> {
    return answer(() => this.stroke.begin(request, stepId, stroke));
  }

  /** @param path - x, y, pressure of further points. */
  paintPoints(path: Int32Array): void {
    this.stroke.extend(path);
  }

  /** @param stroke - Whole; null takes it back. */
  paintEnd(stroke: BrushStroke | null): void {
    this.stroke.end(stroke);
  }

  /** The mask as it comes into a step, with its mip levels. */
  maskBefore(request: RunRequest, stepId: string): Promise<Answer<Mask[]>> {
    return answer(() => {
      const upTo = request.run.findIndex((s) => s.id === stepId);
      const { mask } = this.runs.evaluateUpTo(request, upTo);
      return [mask, ...maskMips(mask, allocate)];
    });
  }

  /** A map of a run as a PNG, and how much of the card's width it takes up. */
  mapFile(request: RunRequest, map: MapName): Promise<Answer<{ bytes: Uint8Array; share: number }>> {
    return answer(async () => {
      const run = this.runs.evaluate(map === 'mask' ? maskStretch(request) : request);
      return { bytes: await writePng(mapOf(run, map), deflateHere), share: frameOf(run).share };
    });
  }

  /** See {@link viewFile}. */
  viewPng(colour: Picture, mask: Mask, halvings: number): Promise<Answer<Uint8Array>> {
    return answer(() => viewFile(colour, mask, halvings));
  }

  /** What a piece comes to, for growing from. */
  partFile(request: RunRequest): Promise<Answer<PartFile>> {
    return answer(async () => {
      const { picture, relief, maps, share } = partOf(this.runs.evaluate(request));
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
      const colours = mainColours(partOf(this.runs.evaluate(request)).picture);
      if (colours) return colours;
      throw new SieveError('unsupported', 'This piece keeps nothing opaque.', 'Choose another one.');
    });
  }

  smallPicture(sha256: string): SmallSource | null {
    return this.pictures.smallPicture(sha256);
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
  async estimate(
    plans: readonly FilePlan[],
    mask: Mask | null,
    doc: Pick<PieceDoc, 'sides'>,
  ): Promise<(number | null)[]> {
    return this.lastRun ? estimateSizes(mask ? { ...this.lastRun, mask } : this.lastRun, plans, doc) : [];
  }
}

/** The result with other counts of its largest level. */
function withCounts(result: MaskResult, counts: Histogram | null): MaskResult {
  if (!counts) return result;
  const [top, ...others] = result.summary.levels;
  return { ...result, summary: { ...result.summary, levels: [{ ...top, counts }, ...others] } };
}

export type RunWorkerApi = RunWorker;
Comlink.expose(new RunWorker());
