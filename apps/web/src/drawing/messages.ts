import type { Change, ClipDrawing, MapName, Material, Picture, Raster, Samples, SurfaceMesh } from '@lithe-sieve/core';
import type { Size, Viewport } from './poses';
import type { SheetLook } from './sheet-pose';
import type { StandLook } from './stand-pose';

/** A map by itself, or the picture seen through the clip. */
export type SheetMode = MapName | 'kept' | 'fringe';
/** A map by itself, cut where the mask drops, or half over the colour. */
export const MAP_LOOKS = ['whole', 'cut', 'over colour'] as const;
export type MapLook = (typeof MAP_LOOKS)[number];
export type Backdrop = 'shore' | 'pale' | 'dark';
export type ViewName = 'sheet' | 'stand';

/** All that the two views show, textures apart: small, and sent whole with every change. */
export interface Scenery {
  /** CSS pixels. */
  canvas: Size;
  pixelRatio: number;
  views: Record<ViewName, Viewport>;
  sheet: SheetLook;
  stand: StandLook;
  sheetMode: SheetMode;
  mapLook: MapLook;
  /** Dropped texels show the picture beneath their linen: what is painted must be seen. */
  beneath: boolean;
  /** Whether soft texels that are dropped are marked, where what is kept is shown. */
  softMarked: boolean;
  material: Pick<Material, 'mode' | 'cutoff' | 'opacity' | 'doubleSided'>;
  /** How the Stand decides which pixels show, in mode mask. */
  drawn: ClipDrawing;
  backdrop: Backdrop;
}

/** Messages of the page to the drawing worker; pictures are in shared memory and are not copied. */
export type ToDrawing =
  /** With the number that it counts up as long as it lives. */
  | { type: 'start'; canvas: OffscreenCanvas; alive: Int32Array }
  | { type: 'show'; scenery: Scenery; stale: ViewName[] }
  /** A map of the result, and how it differs from what was sent of it last. */
  | { type: 'map'; map: MapName; levels: readonly Raster<Samples>[]; change: Change; turn: number | null }
  /** Maps that the result no longer has. */
  | { type: 'drop'; maps: readonly MapName[] }
  /** The mask's levels as a target has them, on the Stand and where the mask itself is shown; null: as they are. */
  | { type: 'clip'; levels: readonly Raster<Samples>[] | null }
  /** What the picture lies on. */
  | { type: 'surface'; mesh: SurfaceMesh }
  /** On the Sheet instead of the result; null goes back. */
  | { type: 'source'; picture: Picture | null }
  /** Frees the pictures of a piece that was left; what is drawn from now on is of the opening of this number. */
  | { type: 'forget'; opening: number };

export type FromDrawing =
  | { type: 'ready'; maxSide: number }
  | { type: 'no-graphics' }
  /** Nothing more will be drawn on this canvas. */
  | { type: 'lost' }
  /** A frame is drawn: how long it took until the graphics were through with it, the turn that its mask answers, and of which opening it is. */
  | { type: 'drawn'; ms: number; turn: number; opening: number; sheet: boolean; stand: boolean };
