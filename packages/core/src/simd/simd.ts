import { byteOfLinear16Table, LINEAR16_OF_BYTE } from '../colour/srgb.ts';
import { KERNELS } from './kernels.ts';

/** Address of something in the memory of the kernels, bytes. */
export type Address = number;

/** The kernels of packages/core/wasm, which says what each computes. */
export interface Kernels {
  readonly memory: { readonly buffer: ArrayBuffer; grow(pages: number): number };
  lightOfBytes: (from: Address, to: Address, count: number, table: Address) => void;
  bytesOfLight: (from: Address, to: Address, count: number, table: Address) => void;
  floatsOfBytes: (from: Address, to: Address, count: number) => void;
  floatsOfWords: (from: Address, to: Address, count: number) => void;
  floatsOfTriples: (from: Address, to: Address, count: number) => void;
  bytesOfFloats: (from: Address, to: Address, count: number) => void;
  wordsOfFloats: (from: Address, to: Address, count: number) => void;
  triplesOfFloats: (from: Address, to: Address, count: number) => void;
  sumRows: (rows: Address, weights: Address, taps: number, to: Address, floats: number) => void;
  sumAcross1: (row: Address, first: Address, weights: Address, taps: number, to: Address, count: number) => void;
  sumAcross4: (row: Address, first: Address, weights: Address, taps: number, to: Address, count: number) => void;
  turnRow1: (
    ...args: [
      ...[part: Address, stride: number, x: number, y: number, dx: number, dy: number],
      ...[kernel: Address, taps: number, padded: number, phases: number, first: number, to: Address, count: number],
    ]
  ) => void;
  turnRow4: (
    ...args: [
      ...[part: Address, stride: number, x: number, y: number, dx: number, dy: number],
      ...[kernel: Address, taps: number, phases: number, first: number, to: Address, count: number],
    ]
  ) => void;
  depositCorners: (
    ...args: [
      ...[corners: Address, count: number, top: number],
      ...[sums: Address, stride: number, from: Address, to: Address, rows: number],
    ]
  ) => void;
  shadeBand: (
    ...args: [
      ...[sums: Address, stride: number, from: Address, to: Address, rows: number, top: number],
      ...[width: number, cells: Address, each: number, own: number, frame: Address],
      ...[along: Address, profile: Address, translucency: number, relief: number, id: number, withMaps: number],
    ]
  ) => void;
  pullRow: (words: Address, alpha: Address, threshold: number, to: Address, count: number) => void;
  pushRow: (own: Address, next: Address, vert: Address, wide: number, texels: Address, count: number) => void;
  fillRow: (
    ...args: [
      ...[own: Address, next: Address, vert: Address, wide: number],
      ...[alpha: Address, threshold: number, words: Address, count: number],
    ]
  ) => void;
  groundRow: (words: Address, alpha: Address, least: number, unit: number, to: Address, count: number) => void;
  cellRow: (above: Address, below: Address, to: Address, pitch: number, count: number) => void;
  nearRow: (
    ...args: [
      ...[table: Address, places: number, rows: Address, own: Address],
      ...[slopes: Address, nearness: Address, count: number],
    ]
  ) => void;
  withinRow: (
    ...args: [
      ...[table: Address, places: number, rows: Address, own: Address],
      ...[slopes: Address, nearness: Address, count: number],
    ]
  ) => void;
  farRow: (
    ...args: [
      ...[own: Address, pitch: number, slopes: Address, nearness: Address],
      ...[cells: Address, other: number, half: number, ahead: Address, behind: Address],
      ...[lines: Address, states: Address, ring: number, turn: number, start: number, apart: number],
      ...[slots: Address, along: Address, aside: Address],
      ...[places: Address, lean: number, lag: number, fade: number, share: number],
      ...[hidden: Address, first: number, step: number, count: number],
    ]
  ) => void;
  padRow: (from: Address, to: Address, count: number) => void;
  normalRow: (
    ...args: [
      ...[up2: Address, up: Address, own: Address, down: Address, down2: Address],
      ...[unit: number, steepest: number, to: Address, count: number],
    ]
  ) => void;
}

// core is compiled without the types of a host; both of its hosts have these
declare const atob: (text: string) => string;
declare const WebAssembly: {
  Module: new (bytes: Uint8Array<ArrayBuffer>) => object;
  Instance: new (module: object, imports: object) => { exports: unknown };
};

/** Light of each of 256 bytes as floats, then the byte of each of 65536 values of light. */
export const LIGHT_TABLE = 1024;
export const BYTE_TABLE = 2048;
const FREE = BYTE_TABLE + 65536;
const PAGE = 65536;

let instance: Kernels | undefined;

/** One for each thread; 3 KB, compiled on first use. */
export function kernels(): Kernels {
  if (instance) return instance;
  const bytes = Uint8Array.from(atob(KERNELS), (c) => c.charCodeAt(0));
  const made = new WebAssembly.Instance(new WebAssembly.Module(bytes), {}).exports as Kernels;
  const missing = FREE - made.memory.buffer.byteLength;
  if (missing > 0) made.memory.grow(Math.ceil(missing / PAGE));
  new Float32Array(made.memory.buffer, LIGHT_TABLE, 256).set(LINEAR16_OF_BYTE);
  new Uint8Array(made.memory.buffer, BYTE_TABLE, 65536).set(byteOfLinear16Table());
  return (instance = made);
}

/** A piece of the kernels' memory. */
export interface Slot {
  at: Address;
  bytes: number;
}

/**
 * Lays out what one computation needs in the kernels' memory, all zero. Only one is in use at a time: it goes from here to
 * the end of the caller, which calls no other that does the same meanwhile.
 *
 * @param sizes - Bytes of each part.
 */
export function layOut<K extends string>(sizes: Record<K, number>): Record<K, Slot> {
  const { memory } = kernels();
  let at = FREE;
  const slots = {} as Record<K, Slot>;
  for (const key of Object.keys(sizes) as K[]) {
    slots[key] = { at, bytes: sizes[key] };
    at += (sizes[key] + 15) & ~15;
  }
  const missing = at - memory.buffer.byteLength;
  if (missing > 0) memory.grow(Math.ceil(missing / PAGE));
  new Uint8Array(memory.buffer, FREE, at - FREE).fill(0);
  return slots;
}

export const bytesIn = ({ at, bytes }: Slot) => new Uint8Array(kernels().memory.buffer, at, bytes);
export const wordsIn = ({ at, bytes }: Slot) => new Uint16Array(kernels().memory.buffer, at, bytes >> 1);
export const wholesIn = ({ at, bytes }: Slot) => new Uint32Array(kernels().memory.buffer, at, bytes >> 2);
export const doublesIn = ({ at, bytes }: Slot) => new Float64Array(kernels().memory.buffer, at, bytes >> 3);
export const floatsIn = ({ at, bytes }: Slot) => new Float32Array(kernels().memory.buffer, at, bytes >> 2);
