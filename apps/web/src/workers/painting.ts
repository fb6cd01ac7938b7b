import { boxesOfTiles, StrokePainter, type Change, type Mask, type RunState, type Stroke } from '@lithe-sieve/core';
import { TileStore } from './tile-store';

/**
 * What a worker holds of the steps that are done by hand: the strokes, a painter for each step, and which part of a
 * mask's memory was written into since it was asked for last.
 */
export class Painting {
  readonly strokes = new Map<string, Stroke>();
  private readonly painters = new Map<string, StrokePainter>();
  /** Tiles; null: all of it. */
  private readonly written = new Map<Uint8Array, Set<number> | null>();

  private readonly store = new TileStore();
  /** Keys that were saved, or found, by step. */
  private readonly saved = new Map<string, number>();
  private saving: ReturnType<typeof setTimeout> | undefined;

  constructor(
    /** Called with each write into parts of a mask. */
    private readonly onPart: (data: Uint8Array, size: StrokePainter, change: Change) => void = () => undefined,
  ) {}

  learn(strokes: readonly Stroke[]): void {
    for (const stroke of strokes) this.strokes.set(stroke.id, stroke);
  }

  painterOf(stepId: string, { mask }: Pick<RunState, 'mask'>): StrokePainter {
    const known = this.painters.get(stepId);
    if (known?.width === mask.width && known.height === mask.height) return known;
    const { width, height } = mask;
    const painter: StrokePainter = new StrokePainter(width, height, (data, tiles) => {
      if (!tiles) return void this.written.set(data, null);
      const before = this.written.get(data);
      if (before) tiles.forEach((tile) => before.add(tile));
      else if (before === undefined) this.written.set(data, new Set(tiles));
      this.onPart(data, painter, boxesOfTiles(tiles, width, height));
    });
    this.painters.set(stepId, painter);
    return painter;
  }

  /** Whether a step was painted already: then there is nothing to bring. */
  knows(stepId: string): boolean {
    return Boolean(this.painters.get(stepId)?.state);
  }

  /** Brings what was kept of a step of many strokes, before its painter is asked the first time. */
  async restore(stepId: string, state: RunState): Promise<void> {
    const painter = this.painterOf(stepId, state);
    if (painter.state) return;
    const kept = await this.store.load(nameOf(stepId, painter));
    if (!kept) return;
    painter.seed(kept.key, kept.overlay);
    this.saved.set(stepId, kept.key);
  }

  /** Keeps what changed once nothing was drawn for a while. */
  saveLater(): void {
    clearTimeout(this.saving);
    this.saving = setTimeout(() => void this.save(), SAVE_AFTER_MS);
  }

  private async save(): Promise<void> {
    for (const [stepId, painter] of this.painters) {
      const { state } = painter;
      if (!state || state.strokes < MANY_STROKES || this.saved.get(stepId) === state.key) continue;
      this.saved.set(stepId, state.key);
      await this.store.save(nameOf(stepId, painter), state.key, state.overlay).catch(() => undefined);
    }
  }

  /** Forgets the painters of steps that are no longer there. */
  keepOnly(stepIds: ReadonlySet<string>): void {
    for (const id of this.painters.keys()) if (!stepIds.has(id)) this.painters.delete(id);
  }

  /** Whether strokes are painted into this memory. */
  paints(data: Uint8Array): boolean {
    return this.written.has(data);
  }

  /** How the memory of this mask changed since the last time. */
  takeWritten({ data, width, height }: Mask): Change {
    const tiles = this.written.get(data);
    if (tiles !== undefined) this.written.set(data, new Set());
    return tiles ? boxesOfTiles(tiles, width, height) : 'whole';
  }
}

/** Fewer are drawn as fast as they are read. */
export const MANY_STROKES = 40;
const SAVE_AFTER_MS = 2000;

function nameOf(stepId: string, { width, height }: StrokePainter): string {
  return `${stepId} ${width}x${height}`;
}
