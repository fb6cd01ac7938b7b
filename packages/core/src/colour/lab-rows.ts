import { LAB_FROM_LMS_ROOTS } from './oklab.ts';
import { oklabTables } from './oklab-table.ts';
import { byteOfLinear16Table } from './srgb.ts';

/** OKLab of a row of texels, a plane each: lightness 0–1 and the two opponent axes. */
export interface LabRows {
  L: Float32Array;
  a: Float32Array;
  b: Float32Array;
}

export function makeLabRows(length: number): LabRows {
  return { L: new Float32Array(length), a: new Float32Array(length), b: new Float32Array(length) };
}

/** OKLab of the texels [from, to) of a picture's words, into the beginning of the rows. */
export function toLabRows(words: Uint32Array, from: number, to: number, { L, a, b }: LabRows): void {
  const { lms, root } = oklabTables();
  const [l0, l1, l2, a0, a1, a2, b0, b1, b2] = LAB_FROM_LMS_ROOTS;
  for (let i = from, o = 0; i < to; i++, o++) {
    const w = words[i];
    const r = w & 255;
    const g = 256 + ((w >>> 8) & 255);
    const c = 512 + ((w >>> 16) & 255);
    const p = root[lms[r] + lms[g] + lms[c]];
    const q = root[lms[r + 768] + lms[g + 768] + lms[c + 768]];
    const s = root[lms[r + 1536] + lms[g + 1536] + lms[c + 1536]];
    L[o] = l0 * p + l1 * q + l2 * s;
    a[o] = a0 * p + a1 * q + a2 * s;
    b[o] = b0 * p + b1 * q + b2 * s;
  }
}

/**
 * Colours of the rows as words [from, to); alpha is that of `own`. Colours outside sRGB are cut off in each channel.
 * The matrices are Ottosson's published inverses.
 */
export function fromLabRows({ L, a, b }: LabRows, own: Uint32Array, out: Uint32Array, from: number, to: number): void {
  const byte = byteOfLinear16Table();
  for (let i = from, o = 0; i < to; i++, o++) {
    const p = L[o] + 0.3963377774 * a[o] + 0.2158037573 * b[o];
    const q = L[o] - 0.1055613458 * a[o] - 0.0638541728 * b[o];
    const s = L[o] - 0.0894841775 * a[o] - 1.291485548 * b[o];
    const x = p * p * p;
    const y = q * q * q;
    const z = s * s * s;
    const red = code(4.0767416621 * x - 3.3077115913 * y + 0.2309699292 * z);
    const green = code(-1.2684380046 * x + 2.6097574011 * y - 0.3413193965 * z);
    const blue = code(-0.0041960863 * x - 0.7034186147 * y + 1.707614701 * z);
    out[i] = (own[i] & 0xff000000) | (byte[blue] << 16) | (byte[green] << 8) | byte[red];
  }
}

/** A linear value as one of 65536. */
function code(linear: number): number {
  return linear <= 0 ? 0 : linear >= 1 ? 65535 : (linear * 65535 + 0.5) | 0;
}
