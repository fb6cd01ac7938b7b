/*
 * BC7 blocks, Khronos Data Format Specification 1.3, BPTC (§20.1): sixteen bytes, the lowest set bit of the first byte
 * gives the mode. Each mode has its own count of subsets, bits of the ends and of the indices.
 */

interface Mode {
  subsets: 1 | 2 | 3;
  partition: number;
  rotation: number;
  choice: number;
  colour: number;
  alpha: number;
  /** Low bits shared: one of each end, one of each subset, or none. */
  low: 'end' | 'subset' | 'none';
  index: number;
  second: number;
}

const mode = (
  subsets: Mode['subsets'],
  partition: number,
  rotation: number,
  choice: number,
  colour: number,
  alpha: number,
  low: Mode['low'],
  index: number,
  second: number,
): Mode => ({ subsets, partition, rotation, choice, colour, alpha, low, index, second });

const MODES: readonly Mode[] = [
  mode(3, 4, 0, 0, 4, 0, 'end', 3, 0),
  mode(2, 6, 0, 0, 6, 0, 'subset', 3, 0),
  mode(3, 6, 0, 0, 5, 0, 'none', 2, 0),
  mode(2, 6, 0, 0, 7, 0, 'end', 2, 0),
  mode(1, 0, 2, 1, 5, 6, 'none', 2, 3),
  mode(1, 0, 2, 0, 7, 8, 'none', 2, 2),
  mode(1, 0, 0, 0, 7, 7, 'end', 4, 0),
  mode(2, 6, 0, 0, 5, 5, 'end', 2, 0),
];

/** Weights of the second end in 64ths, by bits of an index. */
const WEIGHTS: Record<number, readonly number[]> = {
  2: [0, 21, 43, 64],
  3: [0, 9, 18, 27, 37, 46, 55, 64],
  4: [0, 4, 9, 13, 17, 21, 26, 30, 34, 38, 43, 47, 51, 55, 60, 64],
};

/** Subset of each texel, one bit a texel from the lowest: tables of the specification, as are all below. */
const TWO = Uint16Array.of(
  ...[0xcccc, 0x8888, 0xeeee, 0xecc8, 0xc880, 0xfeec, 0xfec8, 0xec80, 0xc800, 0xffec, 0xfe80, 0xe800, 0xffe8, 0xff00],
  ...[0xfff0, 0xf000, 0xf710, 0x008e, 0x7100, 0x08ce, 0x008c, 0x7310, 0x3100, 0x8cce, 0x088c, 0x3110, 0x6666, 0x366c],
  ...[0x17e8, 0x0ff0, 0x718e, 0x399c, 0xaaaa, 0xf0f0, 0x5a5a, 0x33cc, 0x3c3c, 0x55aa, 0x9696, 0xa55a, 0x73ce, 0x13c8],
  ...[0x324c, 0x3bdc, 0x6996, 0xc33c, 0x9966, 0x0660, 0x0272, 0x04e4, 0x4e40, 0x2720, 0xc936, 0x936c, 0x39c6, 0x639c],
  ...[0x9336, 0x9cc6, 0x817e, 0xe718, 0xccf0, 0x0fcc, 0x7744, 0xee22],
);
/** Two bits a texel. */
const THREE = Uint32Array.of(
  ...[0xaa685050, 0x6a5a5040, 0x5a5a4200, 0x5450a0a8, 0xa5a50000, 0xa0a05050, 0x5555a0a0, 0x5a5a5050, 0xaa550000],
  ...[0xaa555500, 0xaaaa5500, 0x90909090, 0x94949494, 0xa4a4a4a4, 0xa9a59450, 0x2a0a4250, 0xa5945040, 0x0a425054],
  ...[0xa5a5a500, 0x55a0a0a0, 0xa8a85454, 0x6a6a4040, 0xa4a45000, 0x1a1a0500, 0x0050a4a4, 0xaaa59090, 0x14696914],
  ...[0x69691400, 0xa08585a0, 0xaa821414, 0x50a4a450, 0x6a5a0200, 0xa9a58000, 0x5090a0a8, 0xa8a09050, 0x24242424],
  ...[0x00aa5500, 0x24924924, 0x24499224, 0x50a50a50, 0x500aa550, 0xaaaa4444, 0x66660000, 0xa5a0a5a0, 0x50a050a0],
  ...[0x69286928, 0x44aaaa44, 0x66666600, 0xaa444444, 0x54a854a8, 0x95809580, 0x96969600, 0xa85454a8, 0x80959580],
  ...[0xaa141414, 0x96960000, 0xaaaa1414, 0xa05050a0, 0xa0a5a5a0, 0x96000000, 0x40804080, 0xa9a8a9a8, 0xaaaaaa44],
  0x2a4a5254,
);
/** Texel of each further subset whose index leaves out its highest bit; of the first subset it is texel 0. */
const ANCHOR_OF_TWO = Uint8Array.of(
  ...[15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 2, 8, 2, 2, 8, 8, 15, 2, 8, 2, 2, 8, 8, 2, 2],
  ...[15, 15, 6, 8, 2, 8, 15, 15, 2, 8, 2, 2, 2, 15, 15, 6, 6, 2, 6, 8, 15, 15, 2, 2, 15, 15, 15, 15, 15, 2, 2, 15],
);
const SECOND_OF_THREE = Uint8Array.of(
  ...[3, 3, 15, 15, 8, 3, 15, 15, 8, 8, 6, 6, 6, 5, 3, 3, 3, 3, 8, 15, 3, 3, 6, 10, 5, 8, 8, 6, 8, 5, 15, 15],
  ...[8, 15, 3, 5, 6, 10, 8, 15, 15, 3, 15, 5, 15, 15, 15, 15, 3, 15, 5, 5, 5, 8, 5, 10, 5, 10, 8, 13, 15, 12, 3, 3],
);
const THIRD_OF_THREE = Uint8Array.of(
  ...[
    15, 8, 8, 3, 15, 15, 3, 8, 15, 15, 15, 15, 15, 15, 15, 8, 15, 8, 15, 3, 15, 8, 15, 8, 3, 15, 6, 10, 15, 15, 10, 8,
  ],
  ...[
    15, 3, 15, 10, 10, 8, 9, 10, 6, 15, 8, 15, 3, 6, 6, 8, 15, 3, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 3, 15, 15, 8,
  ],
);

/** The block as four words, and one beyond it for reads that end at its last bit. */
const words = new Uint32Array(5);
let bit = 0;

function load(block: Uint8Array, at: number): void {
  for (let w = 0, i = at; w < 4; w++, i += 4) {
    words[w] = block[i] | (block[i + 1] << 8) | (block[i + 2] << 16) | (block[i + 3] << 24);
  }
}

/** The next bits, 0 to 8 of them, lowest first. */
function take(count: number): number {
  const word = bit >> 5;
  const from = bit & 31;
  bit += count;
  const high = from === 0 ? 0 : words[word + 1] << (32 - from);
  return ((words[word] >>> from) | high) & ((1 << count) - 1);
}

/** Ends of the subsets: subset, end, channel. */
const ends = new Uint8Array(3 * 2 * 4);
const first = new Uint8Array(16);
const other = new Uint8Array(16);

/** Sixteen texels of RGBA. A block of no mode is transparent black, as the specification asks. */
export function decodeBc7(block: Uint8Array, at: number, out: Uint8Array): void {
  const number = block[at] === 0 ? 8 : 31 - Math.clz32(block[at] & -block[at]);
  if (number === 8) {
    out.fill(0, 0, 64);
    return;
  }
  const kind = MODES[number];
  load(block, at);
  bit = number + 1;
  const shape = take(kind.partition);
  const rotation = take(kind.rotation);
  const choice = take(kind.choice);
  readEnds(kind);
  readIndices(kind.index, kind.subsets, shape, first);
  if (kind.second > 0) readIndices(kind.second, 1, 0, other);
  const [colours, alphas] = kind.second === 0 ? [first, first] : choice ? [other, first] : [first, other];
  const colourWeights = WEIGHTS[choice ? kind.second : kind.index];
  const alphaWeights = WEIGHTS[kind.second === 0 || choice ? kind.index : kind.second];
  for (let i = 0; i < 16; i++) {
    const from = 8 * subsetOf(kind.subsets, shape, i);
    const [w, wa] = [colourWeights[colours[i]], alphaWeights[alphas[i]]];
    for (let c = 0; c < 4; c++) {
      const weight = c === 3 ? wa : w;
      out[4 * i + c] = ((64 - weight) * ends[from + c] + weight * ends[from + 4 + c] + 32) >> 6;
    }
    if (rotation > 0) {
      const alpha = out[4 * i + 3];
      out[4 * i + 3] = out[4 * i + rotation - 1];
      out[4 * i + rotation - 1] = alpha;
    }
  }
}

/** Channel by channel, then the shared low bits; each widened to eight bits by repeating its highest. */
function readEnds({ subsets, colour, alpha, low }: Mode): void {
  const count = 2 * subsets;
  for (let c = 0; c < 4; c++) {
    const bits = c === 3 ? alpha : colour;
    for (let e = 0; e < count; e++) ends[4 * e + c] = bits === 0 ? 255 : take(bits);
  }
  let shared = 0;
  for (let e = 0; e < count; e++) {
    if (low === 'end' || (low === 'subset' && e % 2 === 0)) shared = take(1);
    for (let c = 0; c < 4; c++) {
      const own = c === 3 ? alpha : colour;
      if (own === 0) continue;
      const bits = own + (low === 'none' ? 0 : 1);
      const value = low === 'none' ? ends[4 * e + c] : (ends[4 * e + c] << 1) | shared;
      const high = value << (8 - bits);
      ends[4 * e + c] = high | (high >> bits);
    }
  }
}

function readIndices(bits: number, subsets: number, shape: number, out: Uint8Array): void {
  const second = subsets === 2 ? ANCHOR_OF_TWO[shape] : subsets === 3 ? SECOND_OF_THREE[shape] : 0;
  const third = subsets === 3 ? THIRD_OF_THREE[shape] : 0;
  for (let i = 0; i < 16; i++) out[i] = take(i === 0 || i === second || i === third ? bits - 1 : bits);
}

function subsetOf(subsets: number, shape: number, texel: number): number {
  if (subsets === 1) return 0;
  return subsets === 2 ? (TWO[shape] >> texel) & 1 : (THREE[shape] >>> (2 * texel)) & 3;
}
