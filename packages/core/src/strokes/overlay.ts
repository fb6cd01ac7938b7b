import type { Mask } from '../raster/raster.ts';
import { over65535 } from './cover.ts';
import { FULL, TILE, TILE_TEXELS, type Coverage } from './coverage.ts';

/**
 * What strokes do to any mask, one texel after the other: mask · keep + add. Cutting and restoring by a share are both of
 * that form, and one after the other is again, so that a thousand strokes are as quick as one, whatever mask they are
 * laid over.
 */
export interface OverlayTile {
  /** 0 to {@link FULL}. */
  readonly keep: Uint16Array;
  readonly add: Uint16Array;
}

/** Never written into: the next version shares every tile that a stroke did not come to. */
export interface Overlay {
  readonly across: number;
  readonly down: number;
  /** null: no stroke came there. */
  readonly tiles: readonly (OverlayTile | null)[];
}

export function emptyOverlay(width: number, height: number): Overlay {
  const [across, down] = [Math.ceil(width / TILE), Math.ceil(height / TILE)];
  return { across, down, tiles: new Array<OverlayTile | null>(across * down).fill(null) };
}

/** Puts strokes on top of an overlay, which stays as it was. */
export class OverlayBuilder {
  private tiles: (OverlayTile | null)[];
  /** Made here since the last `take`: these may be written into. */
  private own = new Set<number>();

  constructor(private readonly base: Overlay) {
    this.tiles = [...base.tiles];
  }

  /** As it is now; only to be looked at before the next stroke. */
  get overlay(): Overlay {
    return { ...this.base, tiles: this.tiles };
  }

  /** As it is now, to be kept. */
  take(): Overlay {
    const { overlay } = this;
    this.tiles = [...this.tiles];
    this.own = new Set();
    return overlay;
  }

  clear(tiles: Iterable<number>): void {
    for (const index of tiles) this.tiles[index] = null;
  }

  fold(cover: Coverage, effect: 'cut' | 'restore'): void {
    const target = effect === 'restore' ? FULL : 0;
    for (const [index, covered] of cover.tiles) {
      const before = this.tiles[index];
      const into = this.own.has(index) && before ? before : startTile(before);
      foldInto(into, covered, target);
      this.tiles[index] = into;
      this.own.add(index);
    }
  }
}

function startTile(before: OverlayTile | null): OverlayTile {
  if (before) return { keep: before.keep.slice(), add: before.add.slice() };
  return { keep: new Uint16Array(TILE_TEXELS).fill(FULL), add: new Uint16Array(TILE_TEXELS) };
}

function foldInto({ keep, add }: OverlayTile, covered: Uint16Array, target: number): void {
  for (let i = 0; i < TILE_TEXELS; i++) {
    const share = covered[i];
    if (share === 0) continue;
    if (share === FULL) {
      keep[i] = 0;
      add[i] = target;
      continue;
    }
    keep[i] = over65535(keep[i] * (FULL - share));
    add[i] = over65535(add[i] * (FULL - share) + target * share);
  }
}

/** Tiles in which two overlays differ. */
export function changedTiles(a: Overlay, b: Overlay): number[] {
  const out: number[] = [];
  for (let i = 0; i < a.tiles.length; i++) if (a.tiles[i] !== b.tiles[i]) out.push(i);
  return out;
}

/** Writes the mask under an overlay into `out`, of these tiles. */
export function layOver(mask: Mask, overlay: Overlay, tiles: Iterable<number>, out: Uint8Array): void {
  for (const index of tiles) layTile(mask, overlay.across, index, overlay.tiles[index], out);
}

function layTile(
  { width, height, data }: Mask,
  across: number,
  index: number,
  tile: OverlayTile | null,
  out: Uint8Array,
) {
  const x0 = (index % across) * TILE;
  const y0 = Math.floor(index / across) * TILE;
  const columns = Math.min(TILE, width - x0);
  for (let y = y0, row = 0; y < Math.min(height, y0 + TILE); y++, row += TILE) {
    const base = y * width + x0;
    if (!tile) out.set(data.subarray(base, base + columns), base);
    else layRow(data, tile, row, base, columns, out);
  }
}

function layRow(
  data: Uint8Array,
  { keep, add }: OverlayTile,
  row: number,
  base: number,
  columns: number,
  out: Uint8Array,
) {
  for (let x = 0, i = row, o = base; x < columns; x++, i++, o++) {
    const k = keep[i];
    out[o] = k === FULL ? data[o] : over65535(data[o] * k + 255 * add[i]);
  }
}

/** The same with a stroke under way on top, which is not part of the overlay yet. */
export function layOverWith(
  mask: Mask,
  overlay: Overlay,
  cover: Coverage,
  effect: 'cut' | 'restore',
  tiles: Iterable<number>,
  out: Uint8Array,
): void {
  const target = effect === 'restore' ? FULL : 0;
  for (const index of tiles) {
    const covered = cover.tiles.get(index);
    const tile = covered ? startTile(overlay.tiles[index]) : overlay.tiles[index];
    if (covered) foldInto(tile!, covered, target);
    layTile(mask, overlay.across, index, tile, out);
  }
}
