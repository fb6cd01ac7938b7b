import { SieveError } from '../../errors.ts';
import { ByteReader, SAVE_AGAIN } from '../byte-reader.ts';

/** Tags read here, TIFF 6.0 §8 and supplements. */
const TAG = {
  width: 256,
  height: 257,
  bits: 258,
  compression: 259,
  photometric: 262,
  fillOrder: 266,
  stripOffsets: 273,
  orientation: 274,
  samples: 277,
  rowsPerStrip: 278,
  stripBytes: 279,
  planar: 284,
  predictor: 317,
  colourMap: 320,
  tileWidth: 322,
  tileHeight: 323,
  tileOffsets: 324,
  tileBytes: 325,
  extraSamples: 338,
  sampleFormat: 339,
  profile: 34675,
} as const;

export type TagName = keyof typeof TAG;

/** Bytes of a value by its type: byte, ASCII, short, long, rational, … */
const TYPE_BYTES: Record<number, number> = { 1: 1, 2: 1, 3: 2, 4: 4, 5: 8, 6: 1, 7: 1, 8: 2, 9: 4, 13: 4 };
const MOST_VALUES = 1 << 20;

/** The first directory of a file: its numbers by tag. */
export class Directory {
  readonly little: boolean;
  readonly reader: ByteReader;
  private readonly entries = new Map<number, { type: number; count: number; at: number }>();

  constructor(bytes: Uint8Array) {
    this.little = bytes[0] === 0x49;
    this.reader = new ByteReader(bytes, this.little, 'TIFF');
    const start = this.reader.u32(4);
    const count = this.reader.u16(start);
    for (let i = 0; i < count; i++) {
      const entry = start + 2 + 12 * i;
      const type = this.reader.u16(entry + 2);
      const values = this.reader.u32(entry + 4);
      const size = (TYPE_BYTES[type] ?? 0) * values;
      const at = size <= 4 ? entry + 8 : this.reader.u32(entry + 8);
      this.entries.set(this.reader.u16(entry), { type, count: values, at });
    }
  }

  has(name: TagName): boolean {
    return this.entries.has(TAG[name]);
  }

  /** All values of a tag; `otherwise` where it is not there. */
  numbers(name: TagName, otherwise: number[] = []): number[] {
    const entry = this.entries.get(TAG[name]);
    if (!entry) return otherwise;
    const { type, count, at } = entry;
    if (count > MOST_VALUES || ![1, 3, 4, 13].includes(type)) {
      throw new SieveError('corrupt', `The TIFF says ${name} in a way that makes no sense.`, SAVE_AGAIN);
    }
    const step = TYPE_BYTES[type];
    const read = (where: number) =>
      step === 1 ? this.reader.u8(where) : step === 2 ? this.reader.u16(where) : this.reader.u32(where);
    return Array.from({ length: count }, (_, i) => read(at + step * i));
  }

  number(name: TagName, otherwise: number): number {
    return this.numbers(name)[0] ?? otherwise;
  }
}
