import type { Box, Picture } from '@lithe-sieve/core';
import type { WebGLRenderer } from 'three';
import type { DrawnPiece } from './drawn-piece';
import type { Size, Viewport } from './poses';

/** What every view says of itself. */
export interface ViewPlaced {
  /** Any name that no other view of the canvas has. */
  id: string;
  /** Whose textures, card and material it shows. */
  piece: string;
  /** CSS pixels from the canvas's top left. */
  rect: Viewport;
}

/** The canvas that a view is drawn on, CSS pixels. */
export interface Frame {
  canvas: Size;
  pixelRatio: number;
}

/** A part of a picture, texels of the given size. */
export interface Part {
  box: Box;
  picture: Size;
}

/** How far a picture is refined. */
export interface Summed {
  samples: number;
  of: number;
}

/** A card as it is drawn from afar. */
export interface FarPicture {
  /** Side in pixels, and RGBA of them, top row first: its surroundings, pixel for pixel where they are fewer. */
  side: number;
  data: Uint8ClampedArray<ArrayBuffer>;
  /** Pixels that the card covers as it is drawn, and as an eye would see it; parts of pixels count as parts. */
  drawn: number;
  seen: number;
}

/** A picture that may be seen behind a card, by the key that views have for it. */
export interface BehindPicture {
  key: string;
  picture: Picture;
}

/** Draws views of one kind, one at a time. */
export interface ViewPainter<V extends ViewPlaced> {
  /** Draws a whole view; the caller has set the viewport, and a scissor where a part is enough. */
  draw(renderer: WebGLRenderer, view: V, piece: DrawnPiece, frame: Frame): void;
  /** Makes the picture of a view better than one drawing is, a step at a time, until `draw` begins again; null: it is as good as it gets. */
  refine?(renderer: WebGLRenderer, view: V, piece: DrawnPiece, frame: Frame): Summed | null;
  /** How its piece is drawn at another distance; null: the device cannot say. @param side - Of the picture, pixels. */
  far?(renderer: WebGLRenderer, view: V, piece: DrawnPiece, side: number): FarPicture | null;
  /** Where a part of the picture is seen, CSS pixels of the view: nothing else changes with it. */
  seen(part: Part, view: V, piece: DrawnPiece): Viewport;
  /** A picture that views may have behind the card. */
  setBehind?(picture: BehindPicture): void;
  dispose(): void;
}
