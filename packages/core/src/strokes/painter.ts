import { makeMask, type Mask } from '../raster/raster.ts';
import type { RunState } from '../raster/run-state.ts';
import { Coverage, TILE, TILE_TEXELS } from './coverage.ts';
import { boxOfStroke, drawStroke, tipOf, type StrokeEnv } from './draw-stroke.ts';
import { changedTiles, emptyOverlay, layOver, layOverWith, OverlayBuilder, type Overlay } from './overlay.ts';
import { BrushTrace } from './trace.ts';
import type { BrushStroke, Stroke } from './stroke.ts';

/** Memory of overlays that are not shown, so that undo and redo find them. */
const KEPT_BYTES = 160 * 1024 * 1024;
const TILE_BYTES = 4 * TILE_TEXELS;
/** Versions kept of a long run of strokes that is drawn at once. */
const LAST_KEPT = 64;
/** From this many strokes on that would have to be drawn, drawing only the tiles that differ is quicker. */
const FEW = 4;

interface Shown {
  overlay: Overlay;
  strokes: readonly Stroke[];
  input: Mask;
  inputKey: string;
}

/**
 * Keeps what the strokes of one step did, version by version: a stroke more, or one undone, costs only the tiles that it
 * came to. Without it the same strokes give the same bytes, only later.
 */
export class StrokePainter {
  private readonly versions = new Map<number, { overlay: Overlay; bytes: number }>();
  private keptBytes = 0;
  /** What `out` shows. */
  private shown: Shown | null = null;
  private out: Uint8Array | null = null;
  private live: { stroke: BrushStroke; trace: BrushTrace; cover: Coverage } | null = null;

  /** @param onWrite - Called with the tiles of the mask's memory that are written into; null: all of it. */
  constructor(
    readonly width: number,
    readonly height: number,
    private readonly onWrite: (data: Uint8Array, tiles: readonly number[] | null) => void = () => undefined,
  ) {}

  /** What it shows, and the key of its strokes; null as long as it was never asked. */
  get state(): { key: number; overlay: Overlay; strokes: number } | null {
    const { shown } = this;
    if (!shown) return null;
    const keys = keysOfStrokes(shown.strokes, shown.inputKey);
    return { key: keys[keys.length - 1], overlay: shown.overlay, strokes: shown.strokes.length };
  }

  /** An overlay that was kept elsewhere: strokes are drawn on top of it where they begin with those of its key. */
  seed(key: number, overlay: Overlay): void {
    if (overlay.tiles.length === Math.ceil(this.width / TILE) * Math.ceil(this.height / TILE)) {
      this.remember(key, overlay);
    }
  }

  /**
   * The mask under these strokes. The same memory is written each time.
   *
   * @param inputKey - Changes with picture and mask: what a region is looked for in.
   */
  paint(strokes: readonly Stroke[], state: RunState, inputKey: string, env: StrokeEnv): Mask {
    this.abandon();
    const overlay = this.overlayOf(strokes, state, inputKey, env);
    const { mask } = state;
    const out = (this.out ??= env.allocate(mask.data.length));
    const changed = this.shown?.input === mask ? changedTiles(this.shown.overlay, overlay) : null;
    layOver(mask, overlay, changed ?? overlay.tiles.keys(), out);
    this.onWrite(out, changed);
    this.shown = { overlay, strokes, input: mask, inputKey };
    return makeMask(this.width, this.height, out);
  }

  private overlayOf(strokes: readonly Stroke[], state: RunState, inputKey: string, env: StrokeEnv): Overlay {
    const keys = keysOfStrokes(strokes, inputKey);
    let known = strokes.length;
    while (known > 0 && !this.versions.has(keys[known])) known--;
    const overlay =
      (strokes.length - known > FEW && this.fromShown(strokes, state, env)) ||
      this.fromVersion(strokes, keys, known, state, env);
    this.remember(keys[strokes.length], overlay);
    return overlay;
  }

  /** Draws what is missing on top of the longest run of first strokes that is known. */
  private fromVersion(
    strokes: readonly Stroke[],
    keys: readonly number[],
    known: number,
    state: RunState,
    env: StrokeEnv,
  ): Overlay {
    const start = this.versions.get(keys[known])?.overlay ?? emptyOverlay(this.width, this.height);
    const builder = new OverlayBuilder(start);
    for (let i = known; i < strokes.length; i++) {
      env.checkpoint((i - known) / (strokes.length - known));
      const cover = new Coverage(this.width, this.height);
      drawStroke(strokes[i], cover, () => this.stateUnder(builder.overlay, state), env);
      builder.fold(cover, strokes[i].effect);
      if (i + 1 > strokes.length - LAST_KEPT) this.remember(keys[i + 1], builder.take());
    }
    return builder.take();
  }

  /** Redraws only the tiles of the strokes that are not in both; null where one of them has no place of its own. */
  private fromShown(strokes: readonly Stroke[], state: RunState, env: StrokeEnv): Overlay | null {
    const { shown } = this;
    if (!shown || strokes.some((s) => s.kind === 'region') || shown.strokes.some((s) => s.kind === 'region'))
      return null;
    const [before, after] = [new Set(shown.strokes), new Set(strokes)];
    const others = [...shown.strokes.filter((s) => !after.has(s)), ...strokes.filter((s) => !before.has(s))];
    const tiles = new Set(others.flatMap((s) => this.tilesOf(s, env.scale)));
    const builder = new OverlayBuilder(shown.overlay);
    builder.clear(tiles);
    for (const [i, stroke] of strokes.entries()) {
      env.checkpoint(i / strokes.length);
      if (!this.tilesOf(stroke, env.scale).some((t) => tiles.has(t))) continue;
      const cover = new Coverage(this.width, this.height, tiles);
      drawStroke(stroke, cover, () => state, env);
      builder.fold(cover, stroke.effect);
    }
    return builder.take();
  }

  private tilesOf(stroke: Stroke, scale: number): number[] {
    const box = boxOfStroke(stroke);
    if (!box) return [];
    const across = Math.ceil(this.width / TILE);
    const [x0, y0] = [box.x0, box.y0].map((v) => Math.max(0, Math.floor((v * scale) / TILE)));
    const x1 = Math.min(across - 1, Math.floor((box.x1 * scale) / TILE));
    const y1 = Math.min(Math.ceil(this.height / TILE) - 1, Math.floor((box.y1 * scale) / TILE));
    const out: number[] = [];
    for (let y = y0; y <= y1; y++) for (let x = x0; x <= x1; x++) out.push(y * across + x);
    return out;
  }

  private stateUnder(overlay: Overlay, state: RunState): RunState {
    const { mask } = state;
    const data = new Uint8Array(mask.data.length);
    layOver(mask, overlay, overlay.tiles.keys(), data);
    return { ...state, mask: { ...mask, data } };
  }

  /** The least recently used is dropped first. */
  private remember(key: number, overlay: Overlay): void {
    const known = this.versions.get(key);
    if (known) {
      this.versions.delete(key);
      this.versions.set(key, known);
      return;
    }
    const before = this.shown?.overlay;
    const tiles = before ? changedTiles(before, overlay).length : overlay.tiles.filter(Boolean).length;
    const bytes = tiles * TILE_BYTES + 8 * overlay.tiles.length;
    this.versions.set(key, { overlay, bytes });
    this.keptBytes += bytes;
    for (const [oldest, version] of this.versions) {
      if (this.keptBytes <= KEPT_BYTES || this.versions.size === 1) break;
      this.versions.delete(oldest);
      this.keptBytes -= version.bytes;
    }
  }

  /** A brush stroke begins over what is shown; it is not part of the overlay until it ends. */
  begin(stroke: BrushStroke, env: StrokeEnv): void {
    this.abandon();
    const cover = new Coverage(this.width, this.height);
    const tip = stroke.brush.tip === 'piece' ? tipOf(stroke.brush.picture, env) : null;
    this.live = { stroke, cover, trace: new BrushTrace(stroke, env.scale, cover, tip) };
  }

  /** Further points of the stroke under way. */
  extend(path: ArrayLike<number>): void {
    const { live, shown, out } = this;
    if (!live || !shown || !out) return;
    live.trace.extend(path);
    const tiles = [...live.cover.takeTouched()];
    layOverWith(shown.input, shown.overlay, live.cover, live.stroke.effect, tiles, out);
    this.onWrite(out, tiles);
  }

  /**
   * The stroke under way is done.
   *
   * @param stroke - With its whole path. `paint` with it on top of the strokes shown finds it drawn.
   */
  end(stroke: BrushStroke): void {
    const { live, shown } = this;
    this.live = null;
    if (!live || !shown) return;
    live.cover.finish();
    const builder = new OverlayBuilder(shown.overlay);
    builder.fold(live.cover, stroke.effect);
    const strokes = [...shown.strokes, stroke];
    const overlay = builder.take();
    this.remember(keysOfStrokes(strokes, shown.inputKey)[strokes.length], overlay);
  }

  /** The stroke under way is taken back. */
  abandon(): void {
    const { live, shown, out } = this;
    this.live = null;
    if (!live || !shown || !out) return;
    const tiles = [...live.cover.tiles.keys()];
    layOver(shown.input, shown.overlay, tiles, out);
    this.onWrite(out, tiles);
  }
}

/**
 * Of every number of first strokes, from none to all, a key of what they are: over ids, since a stroke never changes.
 * From the first region on, what it is looked for in counts too.
 */
export function keysOfStrokes(strokes: readonly Stroke[], inputKey: string): number[] {
  const keys = [0];
  let key = 0;
  let regions = false;
  for (const stroke of strokes) {
    if (stroke.kind === 'region' && !regions) {
      regions = true;
      key = mixIn(key, inputKey);
    }
    key = mixIn(key, stroke.id);
    keys.push(key);
  }
  return keys;
}

/** 53 bits, so that two of a few thousand are not taken for each other. */
function mixIn(key: number, text: string): number {
  let a = (key % 4294967296) | 0;
  let b = Math.floor(key / 4294967296) | 0;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    a = Math.imul(a ^ c, 2654435761);
    b = Math.imul(b ^ c, 1597334677);
  }
  a = Math.imul(a ^ (a >>> 16), 2246822507) ^ Math.imul(b ^ (b >>> 13), 3266489909);
  b = Math.imul(b ^ (b >>> 16), 2246822507) ^ Math.imul(a ^ (a >>> 13), 3266489909);
  return (b & 0x1fffff) * 4294967296 + (a >>> 0);
}
