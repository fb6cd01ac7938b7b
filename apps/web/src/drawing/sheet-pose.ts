import type { Box } from '@lithe-sieve/core';
import { clamp, type Point, type Size, type Viewport } from './poses';

const MAX_ZOOM = 64; // screen pixels a texel
const MIN_ZOOM_OF_FIT = 0.25;
/** Height that the controls above and below the picture take, CSS pixels. */
const CONTROLS = 64;

/** What of the picture the Sheet shows. */
export interface SheetLook {
  /** Texel at the middle of the view. */
  centre: Point;
  /** CSS pixels a texel. */
  zoom: number;
  picture: Size;
}

/** Pan and zoom of the flat view. Distances in texels and CSS pixels. */
export class SheetPose {
  private centre: Point = { x: 0, y: 0 };
  private zoom = 1;
  private picture: Size = { width: 1, height: 1 };
  /** Whether it was looked at already. */
  private framed = false;

  get look(): SheetLook {
    return { centre: { ...this.centre }, zoom: this.zoom, picture: this.picture };
  }

  get scale(): number {
    return this.zoom;
  }

  /** The next picture is another one. */
  forget(): void {
    this.framed = false;
  }

  /** @returns true where the size changed, or the picture is another one, so that the view must be fitted again. */
  setPicture(width: number, height: number): boolean {
    const changed = !this.framed || width !== this.picture.width || height !== this.picture.height;
    this.framed = true;
    this.picture = { width, height };
    return changed;
  }

  /** As it was looked at before, where the picture is still as large. */
  takeUp({ centre, zoom, picture }: SheetLook): void {
    if (picture.width !== this.picture.width || picture.height !== this.picture.height) return;
    this.centre = { ...centre };
    this.zoom = zoom;
  }

  fit(view: Viewport): void {
    this.centre = { x: this.picture.width / 2, y: this.picture.height / 2 };
    this.zoom = this.fitZoom(view);
  }

  private fitZoom(view: Viewport): number {
    return Math.min(view.width / this.picture.width, (view.height - CONTROLS) / this.picture.height) * 0.96;
  }

  /** One texel on one pixel of the screen. */
  oneToOne(pixelRatio: number): void {
    this.zoom = 1 / pixelRatio;
  }

  /** Brings a box of texels close, with as much around it again. */
  lookAt({ x0, y0, x1, y1 }: Box, view: Viewport): void {
    this.centre = { x: (x0 + x1) / 2, y: (y0 + y1) / 2 };
    const close = Math.min(view.width, view.height - CONTROLS) / (3 * Math.max(x1 - x0, y1 - y0, 8));
    this.zoom = clamp(close, this.fitZoom(view), MAX_ZOOM / 4);
  }

  /** Fits a box of texels, with a margin. */
  fitBox({ x0, y0, x1, y1 }: Box, view: Viewport): void {
    this.centre = { x: (x0 + x1) / 2, y: (y0 + y1) / 2 };
    const zoom = Math.min(view.width / (x1 - x0), (view.height - CONTROLS) / (y1 - y0)) * 0.9;
    this.zoom = clamp(zoom, this.fitZoom(view), MAX_ZOOM);
  }

  panBy(dx: number, dy: number): void {
    this.centre.x = clamp(this.centre.x - dx / this.zoom, 0, this.picture.width);
    this.centre.y = clamp(this.centre.y - dy / this.zoom, 0, this.picture.height);
  }

  /** Zooms by a factor and keeps the texel under the given point of the view where it is. */
  zoomAt(factor: number, x: number, y: number, view: Viewport): void {
    const before = this.texelAt(x, y, view);
    this.zoom = clamp(this.zoom * factor, this.fitZoom(view) * MIN_ZOOM_OF_FIT, MAX_ZOOM);
    const after = this.texelAt(x, y, view);
    this.centre.x = clamp(this.centre.x + before.x - after.x, 0, this.picture.width);
    this.centre.y = clamp(this.centre.y + before.y - after.y, 0, this.picture.height);
  }

  /** Texel coordinates, with their fraction, of a point in the view. */
  texelAt(x: number, y: number, view: Size): Point {
    return {
      x: this.centre.x + (x - view.width / 2) / this.zoom,
      y: this.centre.y + (y - view.height / 2) / this.zoom,
    };
  }

  pointOf(texelX: number, texelY: number, view: Size): Point {
    return {
      x: (texelX - this.centre.x) * this.zoom + view.width / 2,
      y: (texelY - this.centre.y) * this.zoom + view.height / 2,
    };
  }
}
