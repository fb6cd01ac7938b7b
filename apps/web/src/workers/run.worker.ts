import {
  colourMips,
  decodePicture,
  describeSource,
  evaluateRun,
  extractChannel,
  fingerprint,
  histogram,
  makeMask,
  makeRunCache,
  maskMips,
  MaskTally,
  shrink,
  SieveError,
  startingRun,
  stepKind,
  summariseMask,
  toRgba8,
  writePng,
  type Box,
  type BrushStroke,
  type Channel,
  type Mask,
  type Picture,
  type ProfileId,
  type RunResult,
  type StepEntry,
  type Stroke,
  type StrokePainter,
} from '@lithe-sieve/core';
import * as Comlink from 'comlink';
import { answer } from './answer';
import { browserPlatform } from './browser-platform';
import { estimateSizes } from './estimate';
import { deflateHere, isOpenRaster, openRasterLayers, type Layer } from './layered';
import { MANY_STROKES, Painting } from './painting';
import { colourThumb, maskThumb } from './thumbs';
import type { Answer, ColourResult, MaskResult, PaintedMessage, RunRequest, Thumb, ViewResult } from './types';

const CACHE_BYTES = 400 * 1024 * 1024;

/** Shared memory is never detached: a detached buffer slows every later loop of this thread. */
const allocate = (bytes: number) => new Uint8Array(new SharedArrayBuffer(bytes));

/**
 * Runs core off the main thread. Two of these live beside each other: one has the sources at full size, the other at
 * view size for first updates.
 */
class RunWorker {
  private readonly pictures = new Map<string, Picture>();
  private readonly cache = makeRunCache(CACHE_BYTES);
  private newest: Int32Array = new Int32Array(2);
  /** Texels here to one of the full size. */
  private scale = 1;
  private lastColour: ColourResult | null = null;
  private lastMask: MaskResult | null = null;
  private readonly startingRuns = new Map<string, () => StepEntry[]>();
  private lastRun: RunResult | null = null;
  private tally: MaskTally | null = null;
  private readonly painting = new Painting(this.cache, (data, { width, height }, boxes) => {
    if (!this.live) return;
    postMessage({ tell: 'painted', mask: makeMask(width, height, data), boxes } satisfies PaintedMessage);
  });
  /** Draws the stroke under way. */
  private live: StrokePainter | null = null;

  /** @param newest - Shared: the counter of requests, see {@link RunRequest}, and thousandths done of the one under way. */
  attach(newest: Int32Array): void {
    this.newest = newest;
  }

  /** Decodes a file and keeps its picture. */
  async prepare(sha256: string, bytes: Uint8Array): Promise<Answer<Picture>> {
    return answer(async () => {
      const known = this.pictures.get(sha256);
      if (known) return known;
      const decoded = await decodePicture(bytes, browserPlatform, allocate);
      const picture = toRgba8(decoded.raster, allocate);
      this.pictures.set(sha256, picture);
      this.startingRuns.set(sha256, () => {
        const facts = describeSource(decoded);
        return startingRun([{ ref: { id: 'source', sha256, fileName: '' }, facts }], () => 'step');
      });
      return picture;
    });
  }

  /** Computes ahead the mask that a new piece of this picture alone will ask for. */
  async rehearse(sha256: string): Promise<void> {
    const run = this.startingRuns.get(sha256)?.();
    this.startingRuns.delete(sha256);
    if (!run) return;
    const token = Atomics.load(this.newest, 0);
    await this.mask({ token, edit: 0, run, sources: [{ id: 'source', sha256 }] });
  }

  /** Takes a decoded picture over, halved until it is at most view size. */
  adopt(sha256: string, picture: Picture, halvings: number): void {
    this.scale = 0.5 ** halvings;
    if (this.pictures.has(sha256)) return;
    this.pictures.set(sha256, shrink(picture, halvings, allocate));
  }

  /** The picture of a brush's tip, which is drawn at any size from the same texels. */
  adoptTip(sha256: string, picture: Picture): void {
    this.pictures.set(sha256, picture);
  }

  /** Forgets pictures of other pieces. */
  keepOnly(sha256s: string[]): void {
    for (const key of this.pictures.keys()) if (!sha256s.includes(key)) this.pictures.delete(key);
  }

  /** The mask steps alone, so that the mask is there before the colour steps are done. */
  mask(request: RunRequest): Promise<Answer<MaskResult>> {
    return answer(async () => {
      const run = request.run.filter((s) => stepKind(s.kind).stretch === 'mask');
      await this.restorePainted({ ...request, run });
      const result = this.maskOf(this.evaluate({ ...request, run }), request.edit);
      this.painting.saveLater();
      return result;
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
      if (step?.kind !== 'strokes') return false;
      const token = Atomics.load(this.newest, 0); // what comes first is not to be overtaken
      const { steps } = this.evaluate({ ...request, token, run: request.run.slice(0, upTo + 1) });
      const painter = this.painting.painterOf(stepId, steps[upTo]);
      this.live = painter;
      const tip = (sha256: string) => {
        const picture = this.pictures.get(sha256);
        if (picture) return picture;
        throw new SieveError('missing-source', 'The picture of the brush tip is not here.', 'Choose the tip anew.');
      };
      const bands = (height: number, work: (y0: number, y1: number) => void) => work(0, height);
      painter.begin(stroke, { allocate, bands, tip, scale: this.scale, checkpoint: () => undefined });
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
  }

  /** The mask as it comes into a step, with its mip levels. */
  maskBefore(request: RunRequest, stepId: string): Promise<Answer<Mask[]>> {
    return answer(() => {
      const before = request.run.slice(
        0,
        request.run.findIndex((s) => s.id === stepId),
      );
      const { mask } = this.evaluate({ ...request, token: Atomics.load(this.newest, 0), run: before });
      return [mask, ...maskMips(mask, allocate)];
    });
  }

  colour(request: RunRequest): Promise<Answer<ColourResult>> {
    return answer(() => {
      this.lastRun = this.evaluate(request);
      return this.colourOf(this.lastRun);
    });
  }

  view(request: RunRequest): Promise<Answer<ViewResult>> {
    return answer(async () => {
      await this.restorePainted(request);
      const result = this.evaluate(request);
      return {
        mask: this.maskOf(result, request.edit),
        colour: this.colourOf(result),
        steps: result.steps.map((step, i) => ({
          stepId: step.stepId,
          error: step.error ?? null,
          thumb: stepKind(request.run[i].kind).stretch === 'mask' ? maskThumb(step.mask) : colourThumb(step.colour),
          counts: histogram(step.mask),
        })),
      };
    });
  }

  thumb(sha256: string): ReturnType<typeof colourThumb> | null {
    const picture = this.pictures.get(sha256);
    return picture ? colourThumb(picture) : null;
  }

  /** The mask of a run as a grey PNG. */
  maskFile(request: RunRequest): Promise<Answer<Uint8Array>> {
    return answer(() => {
      const run = request.run.filter((s) => stepKind(s.kind).stretch === 'mask');
      return writePng(this.evaluate({ ...request, run }).mask, deflateHere);
    });
  }

  /** The pictures of a layered file; null where it is none. */
  layersOf(bytes: Uint8Array): Promise<Answer<Layer[] | null>> {
    return answer(() => (isOpenRaster(bytes) ? openRasterLayers(bytes, browserPlatform) : null));
  }

  /** Of the four channels of a source, as grey. */
  channelThumbs(sha256: string): { name: Channel; thumb: Thumb }[] {
    const picture = this.pictures.get(sha256);
    if (!picture) return [];
    const env = { allocate, bands: (height: number, work: (y0: number, y1: number) => void) => work(0, height) };
    return (['red', 'green', 'blue', 'alpha'] as const).map((name) => ({
      name,
      thumb: maskThumb(extractChannel(picture, name, env)),
    }));
  }

  /** Of the last full result: what a hand-off is compared with. */
  fingerprints(): { mask: string; colour: string } | null {
    return this.lastRun && { mask: fingerprint(this.lastRun.mask), colour: fingerprint(this.lastRun.colour) };
  }

  /** About how many bytes each file of a profile will have: rows from all over the picture are filtered and deflated. */
  async estimate(profile: ProfileId): Promise<number[]> {
    const run = this.lastRun;
    if (!run) return [];
    return estimateSizes(run, profile);
  }

  /** Steps of many strokes are taken from what this browser kept of them. */
  private async restorePainted(request: RunRequest): Promise<void> {
    this.painting.keepOnly(new Set(request.run.map((s) => s.id)));
    for (const [i, step] of request.run.entries()) {
      if (step.kind !== 'strokes' || !step.on || step.params.strokes.length < MANY_STROKES) continue;
      if (this.painting.knows(step.id)) continue;
      const { colour, mask } = this.evaluate({ ...request, run: request.run.slice(0, i) });
      await this.painting.restore(step.id, { colour, mask });
    }
  }

  private evaluate({ token, run, sources }: RunRequest): RunResult {
    return evaluateRun(run, {
      strokes: this.painting.strokes,
      tip: (sha256) => this.pictures.get(sha256),
      painterOf: (stepId, state) => this.painting.painterOf(stepId, state),
      sources: sources.flatMap(({ id, sha256, place }) => {
        const picture = this.pictures.get(sha256);
        return picture ? [{ id, sha256, place, picture }] : [];
      }),
      cache: this.cache,
      allocate,
      scale: this.scale,
      checkpoint: (step, share) => {
        Atomics.store(this.newest, 1, Math.round((1000 * (step + share)) / run.length));
        if (Atomics.load(this.newest, 0) !== token) throw new SieveError('cancelled', 'Overtaken.');
      },
    });
  }

  private maskOf(result: RunResult, edit: number): MaskResult {
    if (this.lastMask?.key !== result.key) {
      const { levels, parts } = this.levelsOf(result.mask);
      const found = Object.fromEntries(result.steps.flatMap((s) => (s.found ? [[s.stepId, s.found]] : [])));
      const says = Object.fromEntries(result.steps.flatMap((s) => (s.says ? [[s.stepId, s.says]] : [])));
      const summary = this.tally?.chain === levels ? this.tally.summary() : summariseMask(levels);
      this.lastMask = { key: result.key, edit, levels, summary, found, says, parts };
      return this.lastMask;
    }
    return { ...this.lastMask, edit, parts: null };
  }

  /** Of memory that strokes are painted into, only what they came to is looked at again. */
  private levelsOf(mask: Mask): { levels: Mask[]; parts: Box[] | null } {
    const written = this.painting.takeWritten(mask);
    const shown = this.tally?.chain[0].data === mask.data;
    if (this.tally && shown && written) {
      this.tally.refresh(written);
      return {
        levels: this.tally.chain as Mask[],
        parts: this.lastMask?.levels[0].data === mask.data ? written : null,
      };
    }
    const levels = [mask, ...maskMips(mask, allocate)];
    if (this.painting.paints(mask.data)) this.tally = new MaskTally(levels);
    return { levels, parts: null };
  }

  private colourOf(result: RunResult): ColourResult {
    if (this.lastColour?.levels[0] === result.colour) return this.lastColour;
    this.lastColour = { key: result.key, levels: [result.colour, ...colourMips(result.colour, allocate)] };
    return this.lastColour;
  }
}

export type RunWorkerApi = RunWorker;
Comlink.expose(new RunWorker());
