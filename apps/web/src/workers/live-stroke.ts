import { isHandStep, makeMask, SieveError, strokesOf, type BrushStroke, type StrokePainter } from '@lithe-sieve/core';
import { LiveHeights, plainUnder } from './live-heights';
import { allocate } from './memory';
import type { Painting } from './painting';
import type { Pictures } from './pictures';
import type { Runs } from './runs';
import type { PaintedMessage, RunRequest } from './types';

/** The stroke under way: drawn on top of its step as its points come, and posted as it changes. */
export class LiveStroke {
  private painter: StrokePainter | null = null;
  /** Where it is one on the heights. */
  private heights: LiveHeights | null = null;

  constructor(
    private readonly runs: Runs,
    private readonly painting: Painting,
    private readonly pictures: Pictures,
  ) {}

  /** Posts what changed of the step that is drawn on. */
  show(data: Uint8Array, { width, height }: { width: number; height: number }, change: PaintedMessage['change']): void {
    if (!this.painter) return;
    const { heights } = this;
    if (heights && change !== 'whole') heights.refresh(data, change);
    const news = heights
      ? { map: 'height' as const, level: heights.level }
      : { map: 'mask' as const, level: makeMask(width, height, data) };
    postMessage({ type: 'painted', ...news, change } satisfies PaintedMessage);
  }

  /** The run up to the step is computed if it is not yet. @returns whether the stroke could begin. */
  begin(request: RunRequest, stepId: string, stroke: BrushStroke): boolean {
    this.painter = null;
    const upTo = request.run.findIndex((s) => s.id === stepId);
    const step = request.run[upTo];
    if (!isHandStep(step)) return false;
    const { steps } = this.runs.evaluateUpTo(request, upTo + 1);
    const painter = this.painting.painterOf(stepId, steps[upTo]);
    const bands = (height: number, work: (y0: number, y1: number) => void) => work(0, height);
    const tip = (sha256: string) => this.tipOf(sha256);
    const work = { allocate, bands, tip, scale: this.pictures.scale, checkpoint: () => undefined };
    this.heights = null;
    if (step.kind === 'height-by-hand') {
      const before = this.runs.evaluateUpTo(request, upTo);
      const strokes = strokesOf(step.params.strokes, this.painting.strokes);
      const plain = { ...before, mask: plainUnder(before, step.params) };
      const drawn = painter.paint(strokes, plain, before.key, work);
      this.heights = new LiveHeights(before, step.params, drawn.data, work);
    }
    this.painter = painter;
    painter.begin(stroke, work);
    painter.extend(stroke.path);
    return true;
  }

  /** @param path - x, y, pressure of further points. */
  extend(path: Int32Array): void {
    this.painter?.extend(path);
  }

  /** @param stroke - Whole; null takes it back. */
  end(stroke: BrushStroke | null): void {
    if (stroke) this.painter?.end(stroke);
    else this.painter?.abandon();
    this.painter = null;
    this.heights = null;
  }

  private tipOf(sha256: string) {
    const picture = this.pictures.get(sha256);
    if (picture) return picture;
    throw new SieveError('missing-source', 'The picture of the brush tip is missing.', 'Choose the tip again.');
  }
}
