import type { SurfaceHit } from '@lithe-sieve/core';
import type { ComputedRef } from 'vue';
import type { Point } from '../../drawing/poses';

/** A point of a press, in texels of the picture with their fraction; pressure 0–1. */
export interface PressPoint extends Point {
  pressure: number;
  /** On the Stand. */
  hit?: SurfaceHit | undefined;
}

/** What presses on the views do instead of moving them, while it is ready for them. */
export interface PressTool {
  ready: ComputedRef<boolean>;
  /** The one view that it takes presses on; both without it. */
  readonly on?: 'sheet' | 'stand' | undefined;
  /** Whether it works on the picture as it came, which is to be seen where it is dropped too. */
  readonly underlay: boolean;
  /** @param perTexel - CSS pixels of one texel there. */
  begin(at: PressPoint, perTexel: number): void;
  move(points: readonly PressPoint[], perTexel: number): void;
  /** Ends where it is: nothing that was drawn is lost. */
  end(): void;
  /** The other end of a pen is down, or lifted. */
  erase(on: boolean): void;
}

/** What is drawn over a view by the owner of the tool. */
export interface OverView {
  view: 'sheet' | 'stand';
  /** Changes when a camera moved. */
  moved: number;
  /** Under the pointer with its fraction, and the view it was found on; null: nowhere. */
  at: (Point & { on: 'sheet' | 'stand' }) | null;
}
