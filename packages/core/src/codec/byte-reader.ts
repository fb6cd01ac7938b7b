import { SieveError } from '../errors.ts';

export const SAVE_AGAIN = 'Save the picture again, or copy the file again.';

/** Reads numbers of either byte order and refuses to read past the end. */
export class ByteReader {
  private readonly view: DataView;

  constructor(
    private readonly bytes: Uint8Array,
    private readonly little: boolean,
    /** What the file is called in errors. */
    private readonly kind: string,
  ) {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  }

  u8(at: number): number {
    this.assertRoom(at, 1);
    return this.bytes[at];
  }

  u16(at: number): number {
    this.assertRoom(at, 2);
    return this.view.getUint16(at, this.little);
  }

  u32(at: number): number {
    this.assertRoom(at, 4);
    return this.view.getUint32(at, this.little);
  }

  slice(at: number, length: number): Uint8Array {
    this.assertRoom(at, length);
    return this.bytes.subarray(at, at + length);
  }

  private assertRoom(at: number, length: number): void {
    if (at < 0 || at + length > this.bytes.length) {
      throw new SieveError('truncated', `The ${this.kind} is cut off: its picture data ends early.`, SAVE_AGAIN);
    }
  }
}
