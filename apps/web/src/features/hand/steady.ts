import type { PressPoint } from '../stage/press-tool';

/**
 * Steadies a hand: the tip hangs on a string of a length and is pulled along by the pointer, so that a tremor shorter than
 * the string moves nothing. Where the tip comes depends on the way of the pointer, not on how often it is reported.
 */
export class Steady {
  private tip: { x: number; y: number };

  /** @param length - Of the string, in texels; 0: the tip is where the pointer is. */
  constructor(
    private readonly length: number,
    { x, y }: PressPoint,
  ) {
    this.tip = { x, y };
  }

  /** @returns where the tip is now, or nothing where it did not move. */
  pull({ x, y, pressure }: PressPoint): PressPoint[] {
    if (this.length <= 0) return [{ x, y, pressure }];
    const [dx, dy] = [x - this.tip.x, y - this.tip.y];
    const far = Math.hypot(dx, dy);
    if (far <= this.length) return [];
    const share = (far - this.length) / far;
    this.tip = { x: this.tip.x + dx * share, y: this.tip.y + dy * share };
    return [{ ...this.tip, pressure }];
  }
}
