import { unfilterLine } from './unfilter.ts';

/** Takes inflated bytes in parts of any size and hands on each scanline, unfiltered, as soon as it is complete. */
export class LineReader {
  /** The filter byte and the bytes of the line under way. */
  private readonly line: Uint8Array;
  private filled = 0;
  private y = 0;
  private row: Uint8Array;
  private above: Uint8Array;

  /**
   * @param stride - Bytes of a line.
   * @param step - Bytes of a whole pixel, at least 1.
   * @param tell - Given the bytes of a line, valid for the time of the call.
   */
  constructor(
    stride: number,
    private readonly step: number,
    private readonly rows: number,
    private readonly tell: (y: number, packed: Uint8Array) => void,
  ) {
    this.line = new Uint8Array(1 + stride);
    this.row = new Uint8Array(stride);
    this.above = new Uint8Array(stride);
  }

  get complete(): boolean {
    return this.y === this.rows;
  }

  /** @returns whether more is wanted. */
  take(part: Uint8Array): boolean {
    for (let at = 0; at < part.length && !this.complete;) {
      const some = part.subarray(at, at + this.line.length - this.filled);
      this.line.set(some, this.filled);
      this.filled += some.length;
      at += some.length;
      if (this.filled === this.line.length) this.endLine();
    }
    return !this.complete;
  }

  private endLine(): void {
    unfilterLine(this.line, this.row, this.above, this.step, this.y);
    this.tell(this.y++, this.row);
    [this.row, this.above] = [this.above, this.row];
    this.filled = 0;
  }
}
