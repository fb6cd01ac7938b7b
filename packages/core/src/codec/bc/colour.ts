/*
 * The colour of a block, Khronos Data Format Specification 1.3, S3TC (§18): two ends of 5, 6 and 5 bits, and sixteen indices
 * of 2 bits into four colours between them, or into three and one that is transparent.
 */
import { packColour, writeColour, type ColourBlock } from './colour-write.ts';

/** More than any error: 16 texels, weight 16. */
const NO_FIT = 0x7fffffff;
/** Colours nearer together than this, along their axis, may fare better with what lies between two ends around them. */
const NEAR = 16;

/** Whole numbers stay whole numbers: several times as fast here as `*`. */
const { imul } = Math;

/** Two ends, first and second; each red, green and blue as encoded. */
export const ends = new Int32Array(6);
export const bestEnds = new Int32Array(6);
/** Steps from the first end. */
const indices = new Int32Array(16);
export const bestIndices = new Int32Array(16);
/** The two ends that are sought, 0–255. */
const sought = new Float64Array(6);
const centre = new Float64Array(3);
/** How far the colours reach along their axis, in steps of a byte. */
let extent = 0;

/**
 * Encodes colours into eight bytes: ends from the principal axis, once refitted to the indices; and where the colours are
 * near together, two ends that have the mean between them.
 *
 * @param rough - Where no colour is seen, the ends of the box around all will do.
 * @param three - The palette of three colours and a transparent one, which every texel is that is not of the block.
 */
export function encodeColour(block: ColourBlock, three: boolean, out: Uint8Array, at: number, rough = false): void {
  if (block.count === 0) return writeColour(out, at, 0, 0xffff, -1);
  fitEnds(block, three, rough);
  packColour(block, three, bestEnds, bestIndices, out, at);
}

/** Ends and indices of a block that has colours. @returns their weighted squared error. */
export function fitEnds(block: ColourBlock, three: boolean, rough: boolean): number {
  if (rough) startAtCorners(block);
  else startEnds(block);
  let error = NO_FIT;
  if (extent > 0) {
    quantise();
    error = chooseIndices(block, three);
    keepTrial();
    const now = error > 0 && !rough ? refitted(block, three) : NO_FIT;
    if (now < error) {
      keepTrial();
      error = now;
    }
  }
  if (extent < NEAR && error > 0 && !(rough && extent > 0)) {
    endsAround(three);
    const now = chooseIndices(block, three);
    if (now < error) {
      keepTrial();
      error = now;
    }
  }
  return error;
}

/** Tries the ends that fit the indices that are kept best. @returns their error. */
export function refitted(block: ColourBlock, three: boolean): number {
  if (!refit(block, three)) return NO_FIT;
  quantise();
  return chooseIndices(block, three);
}

export function keepTrial(): void {
  for (let c = 0; c < 6; c++) bestEnds[c] = ends[c];
  for (let i = 0; i < 16; i++) bestIndices[i] = indices[i];
}

/** The principal axis of the colours by power iteration, and the furthest colours along it. */
function startEnds({ count, red, green, blue, weight }: ColourBlock): void {
  let total = 0;
  let sr = 0;
  let sg = 0;
  let sb = 0;
  let qrr = 0;
  let qrg = 0;
  let qrb = 0;
  let qgg = 0;
  let qgb = 0;
  let qbb = 0;
  for (let i = 0; i < count; i++) {
    const w = weight[i];
    const r = red[i];
    const g = green[i];
    const b = blue[i];
    const wr = imul(w, r);
    const wg = imul(w, g);
    const wb = imul(w, b);
    total = (total + w) | 0;
    sr = (sr + wr) | 0;
    sg = (sg + wg) | 0;
    sb = (sb + wb) | 0;
    qrr = (qrr + imul(wr, r)) | 0;
    qrg = (qrg + imul(wr, g)) | 0;
    qrb = (qrb + imul(wr, b)) | 0;
    qgg = (qgg + imul(wg, g)) | 0;
    qgb = (qgb + imul(wg, b)) | 0;
    qbb = (qbb + imul(wb, b)) | 0;
  }
  const mr = (centre[0] = sr / total);
  const mg = (centre[1] = sg / total);
  const mb = (centre[2] = sb / total);
  const rr = qrr - sr * mr;
  const rg = qrg - sr * mg;
  const rb = qrb - sr * mb;
  const gg = qgg - sg * mg;
  const gb = qgb - sg * mb;
  const bb = qbb - sb * mb;
  let x = rr >= gg && rr >= bb ? rr : gg >= bb ? rg : rb;
  let y = rr >= gg && rr >= bb ? rg : gg >= bb ? gg : gb;
  let z = rr >= gg && rr >= bb ? rb : gg >= bb ? gb : bb;
  for (let k = 0; k < 3; k++) {
    const nx = rr * x + rg * y + rb * z;
    const ny = rg * x + gg * y + gb * z;
    const nz = rb * x + gb * y + bb * z;
    const size = Math.abs(nx) + Math.abs(ny) + Math.abs(nz);
    if (size < 1e-9) break;
    x = nx / size;
    y = ny / size;
    z = nz / size;
  }
  let least = Infinity;
  let most = -Infinity;
  for (let i = 0; i < count; i++) {
    const along = red[i] * x + green[i] * y + blue[i] * z;
    if (along < least) least = along;
    if (along > most) most = along;
  }
  const square = x * x + y * y + z * z;
  const scale = square > 0 ? 1 / square : 0;
  extent = (most - least) * Math.sqrt(scale);
  const middle = mr * x + mg * y + mb * z;
  const inset = (most - least) / 32; // the furthest colours are seldom the best ends
  const [up, down] = [(most - inset - middle) * scale, (least + inset - middle) * scale];
  sought[0] = mr + x * up;
  sought[1] = mg + y * up;
  sought[2] = mb + z * up;
  sought[3] = mr + x * down;
  sought[4] = mg + y * down;
  sought[5] = mb + z * down;
}

/** The darkest and lightest corner of the box around the colours. */
function startAtCorners({ count, red, green, blue }: ColourBlock): void {
  let r0 = 255;
  let g0 = 255;
  let b0 = 255;
  let r1 = 0;
  let g1 = 0;
  let b1 = 0;
  for (let i = 0; i < count; i++) {
    r0 = red[i] < r0 ? red[i] : r0;
    r1 = red[i] > r1 ? red[i] : r1;
    g0 = green[i] < g0 ? green[i] : g0;
    g1 = green[i] > g1 ? green[i] : g1;
    b0 = blue[i] < b0 ? blue[i] : b0;
    b1 = blue[i] > b1 ? blue[i] : b1;
  }
  sought[0] = centre[0] = r1;
  sought[1] = centre[1] = g1;
  sought[2] = centre[2] = b1;
  sought[3] = r0;
  sought[4] = g0;
  sought[5] = b0;
  extent = r1 - r0 + g1 - g0 + b1 - b0;
}

function quantise(): void {
  for (let c = 0; c < 6; c++) {
    const top = c === 1 || c === 4 ? 63 : 31;
    const value = Math.floor((sought[c] * top) / 255 + 0.5);
    ends[c] = value < 0 ? 0 : value > top ? top : value;
  }
}

function widened(value: number, bits: number): number {
  return bits === 6 ? (value << 2) | (value >> 4) : (value << 3) | (value >> 2);
}

/** Red, green and blue of each step. */
const palette = new Int32Array(12);

function fillPalette(three: boolean): number {
  const steps = three ? 2 : 3;
  for (let c = 0; c < 3; c++) {
    const a = widened(ends[c], c === 1 ? 6 : 5);
    const b = widened(ends[3 + c], c === 1 ? 6 : 5);
    palette[c] = a;
    palette[3 * steps + c] = b;
    if (three) palette[3 + c] = (a + b) >> 1;
    else {
      palette[3 + c] = ((2 * a + b) / 3) | 0;
      palette[6 + c] = ((a + 2 * b) / 3) | 0;
    }
  }
  return steps;
}

/** The nearest step for each colour, found along the line between the ends. @returns the weighted squared error. */
export function chooseIndices({ count, red, green, blue, weight }: ColourBlock, three: boolean): number {
  const last = 3 * fillPalette(three);
  const r0 = palette[0];
  const g0 = palette[1];
  const b0 = palette[2];
  const dr = palette[last] - r0;
  const dg = palette[last + 1] - g0;
  const db = palette[last + 2] - b0;
  const square = dr * dr + dg * dg + db * db;
  const low = three ? square : 2 * square; // of 4 and of 12 times the way: borders at 1/4 3/4, and 1/6 1/2 5/6
  const high = three ? 3 * square : 10 * square;
  const middle = three ? high : 6 * square;
  const times = three ? 4 : 12;
  const alwaysTwo = three ? 0 : 1;
  let error = 0;
  for (let i = 0; i < count; i++) {
    const r = red[i];
    const g = green[i];
    const b = blue[i];
    const along = imul(times, imul(r - r0, dr) + imul(g - g0, dg) + imul(b - b0, db));
    const k = ((low - along) >>> 31) + ((high - along) >>> 31) + (((middle - along) >>> 31) & alwaysTwo);
    indices[i] = k;
    const er = r - palette[3 * k];
    const eg = g - palette[3 * k + 1];
    const eb = b - palette[3 * k + 2];
    error = (error + imul(weight[i], imul(er, er) + imul(eg, eg) + imul(eb, eb))) | 0;
  }
  return error;
}

/** The ends with the least squared error for the indices kept; false where these do not tell both ends. */
function refit({ count, red, green, blue, weight }: ColourBlock, three: boolean): boolean {
  const steps = three ? 2 : 3;
  let aa = 0;
  let ab = 0;
  let bb = 0;
  let ar = 0;
  let ag = 0;
  let ablue = 0;
  let br = 0;
  let bg = 0;
  let bblue = 0;
  for (let i = 0; i < count; i++) {
    const b = bestIndices[i];
    const a = steps - b;
    const wa = imul(weight[i], a);
    const wb = imul(weight[i], b);
    aa = (aa + imul(wa, a)) | 0;
    ab = (ab + imul(wa, b)) | 0;
    bb = (bb + imul(wb, b)) | 0;
    ar = (ar + imul(wa, red[i])) | 0;
    ag = (ag + imul(wa, green[i])) | 0;
    ablue = (ablue + imul(wa, blue[i])) | 0;
    br = (br + imul(wb, red[i])) | 0;
    bg = (bg + imul(wb, green[i])) | 0;
    bblue = (bblue + imul(wb, blue[i])) | 0;
  }
  const det = aa * bb - ab * ab;
  if (det === 0) return false;
  const scale = steps / det;
  sought[0] = (bb * ar - ab * br) * scale;
  sought[1] = (bb * ag - ab * bg) * scale;
  sought[2] = (bb * ablue - ab * bblue) * scale;
  sought[3] = (aa * br - ab * ar) * scale;
  sought[4] = (aa * bg - ab * ag) * scale;
  sought[5] = (aa * bblue - ab * ablue) * scale;
  return true;
}

/** The two ends between which the mean colour lies most exactly. */
function endsAround(three: boolean): void {
  for (let c = 0; c < 3; c++) {
    const pairs = PAIRS[(three ? 2 : 0) + (c === 1 ? 1 : 0)];
    const v = Math.floor(centre[c] + 0.5);
    ends[c] = pairs[2 * v];
    ends[3 + c] = pairs[2 * v + 1];
  }
}

/** For every byte the pair of ends whose middle, or first third, comes nearest to it. */
const PAIRS = [nearestPairs(5, false), nearestPairs(6, false), nearestPairs(5, true), nearestPairs(6, true)];

function nearestPairs(bits: number, three: boolean): Uint8Array {
  const levels = 1 << bits;
  const pairs = new Uint8Array(512);
  const least = new Float64Array(256).fill(Infinity);
  for (let a = 0; a < levels; a++) {
    for (let b = 0; b < levels; b++) {
      const [x, y] = [widened(a, bits), widened(b, bits)];
      const value = three ? (x + y) >> 1 : Math.floor((2 * x + y) / 3);
      for (let v = Math.max(0, value - 8); v < Math.min(256, value + 9); v++) {
        const off = Math.abs(value - v) + Math.abs(a - b) * 1e-3;
        if (off >= least[v]) continue;
        least[v] = off;
        pairs[2 * v] = a;
        pairs[2 * v + 1] = b;
      }
    }
  }
  return pairs;
}
