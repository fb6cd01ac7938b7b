import {
  handHeights,
  handPlain,
  type Box,
  type HeightByHandParams,
  type Mask,
  type Raster,
  type RunState,
} from '@lithe-sieve/core';
import { allocate } from './memory';

/** The heights under a stroke that is being drawn: what the step makes of them, part by part. */
export class LiveHeights {
  readonly level: Raster<Uint16Array>;
  private readonly after: (i: number, drawn: number) => number;

  /** @param state - As it comes into the step. */
  constructor(state: RunState, params: HeightByHandParams, drawn: Uint8Array, env: Parameters<typeof handHeights>[2]) {
    const { width, height } = state.mask;
    const { before, after } = handHeights(state, params, env);
    this.after = after;
    const bytes = allocate(2 * before.length);
    this.level = { width, height, channels: 1, data: new Uint16Array(bytes.buffer) };
    this.refresh(drawn, [{ x0: 0, y0: 0, x1: width, y1: height }]);
  }

  refresh(drawn: Uint8Array, parts: readonly Box[]): void {
    const { width, data } = this.level;
    for (const { x0, y0, x1, y1 } of parts) {
      for (let y = y0; y < y1; y++) {
        for (let i = y * width + x0, end = y * width + x1; i < end; i++) data[i] = this.after(i, drawn[i]) + 0.5;
      }
    }
  }
}

/** What strokes of the step are drawn on, as the run draws them. */
export function plainUnder(state: RunState, params: HeightByHandParams): Mask {
  const { width, height } = state.mask;
  return handPlain(params, width, height, allocate(width * height));
}
