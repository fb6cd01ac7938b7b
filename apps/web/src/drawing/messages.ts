import type { Change, PlainPart, Raster, Samples, SurfaceMesh, Wraps } from '@lithe-sieve/core';
import type { PieceMaterial, TexturePlace, Tint } from './drawn-piece';
import type { Size } from './poses';
import type { BehindPicture, FarPicture, Summed } from './view-painter';
import type { DrawnView } from './views';

/** What a canvas shows, textures and cards apart: small, and sent whole with every change. */
export interface Scenery {
  /** CSS pixels. */
  canvas: Size;
  pixelRatio: number;
  views: readonly DrawnView[];
}

/**
 * Messages of the page to the drawing worker; pictures are in shared memory and are not copied. `piece` is any key: what
 * was sent with one key is drawn by the views that name it.
 */
export type ToDrawing =
  /** With the number that it counts up as long as it lives. */
  | { type: 'start'; canvas: OffscreenCanvas; alive: Int32Array }
  /** @see Scenery; `stale` names the views that are drawn again. */
  | { type: 'show'; scenery: Scenery; stale: readonly string[] }
  | TextureSent
  /** Textures that the piece no longer has. */
  | { type: 'drop'; piece: string; places: readonly TexturePlace[] }
  /** What the picture lies on, and what stands beside it. */
  | {
      type: 'surface';
      piece: string;
      mesh: SurfaceMesh;
      plain: readonly PlainPart[];
      backTint: Tint | null;
      wraps: Wraps;
    }
  | { type: 'material'; piece: string; material: PieceMaterial }
  /** Views that name its key have it behind the card. */
  | { type: 'behind'; picture: BehindPicture }
  /** Asks for a picture of a view's piece at the distance of this view; see {@link FarPicture}. */
  | { type: 'far'; view: DrawnView; side: number; turn: number }
  /** Frees all that a piece holds. */
  | { type: 'forget'; piece: string };

export interface TextureSent {
  type: 'texture';
  piece: string;
  place: TexturePlace;
  /** The same key, the same texels: uploaded once, whichever pieces hold it. null: known by nothing, and uploaded. */
  key: string | null;
  /** Level 0 first; level 0 alone while a stroke is drawn. */
  levels: readonly Raster<Samples>[];
  /** How it differs from what was sent for this place last. */
  change: Change;
  /** The turn that it answers; null where it is none of the engine's. */
  turn: number | null;
}

/** A view that was drawn, with the piece that it showed and the turn that this answers. */
export interface ViewDrawn {
  id: string;
  piece: string;
  turn: number;
}

/** A view whose picture got better while nothing changed. */
export interface Refined extends Summed {
  id: string;
}

export type FromDrawing =
  | { type: 'ready'; maxSide: number }
  | { type: 'no-graphics' }
  /** Nothing more will be drawn on this canvas. */
  | { type: 'lost' }
  /** A frame is drawn, and how long that took until the graphics were through with it. */
  | { type: 'drawn'; ms: number; views: readonly ViewDrawn[] }
  | { type: 'refined'; views: readonly Refined[] }
  /** The answer to a turn of `far`. */
  | { type: 'far'; turn: number; picture: FarPicture | null }
  /** A piece was forgotten: how many textures of pieces are left. */
  | { type: 'freed'; textures: number };
