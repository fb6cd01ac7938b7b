import { textOf } from '../../codec/utf8.ts';
import { SieveError } from '../../errors.ts';
import { Numbers } from './numbers.ts';
import { Triples } from './triples.ts';
import { assertMeshSize, userMesh, type MeshSlot, type UserMesh } from './user-mesh.ts';

const NEWLINE = 10;
const SPACE = 32;
const TAB = 9;
const RETURN = 13;
const BACKSLASH = 92;
const HASH = 35;
const SLASH = 47;
const MINUS = 45;
const POINT = 46;
const ZERO = 48;
/** A whole number of so many is exact. */
const MOST_DIGITS = 15;
/** Of ten. */
const POWERS = Array.from({ length: MOST_DIGITS + 1 }, (_, i) => Number(`1e${i}`));

/** Whether a file may be an OBJ: text whose first lines are statements of one. */
export function looksLikeObj(bytes: Uint8Array): boolean {
  const head = String.fromCharCode(...bytes.subarray(0, 4096));
  if (head.includes('\0')) return false;
  const lines = head.split('\n').map((line) => line.trim()).filter((line) => line !== '' && !line.startsWith('#')); // prettier-ignore
  return lines.length > 0 && /^(v|vt|vn|f|o|g|s|mtllib|usemtl)\s/.test(lines[0]);
}

/**
 * A mesh of Wavefront's OBJ ("Object Files (.obj)", version 3.0 of its format, as published with the Advanced Visualizer's
 * manual, appendix B1): v, vt, vn, f, usemtl; indices from the end, lines that go on, faces of any number of corners, as a
 * fan. Curves, points, lines, groups and smoothing are left out. V runs up in the file, and down in what comes out.
 *
 * @param checkpoint - Called every some thousand lines; may throw to give up.
 * @throws SieveError `corrupt` with the line, `too-large`, `unsupported` where there are no faces.
 */
export function readObj(bytes: Uint8Array, checkpoint: () => void = () => undefined): UserMesh {
  return new ObjReader(bytes, checkpoint).whole();
}

class ObjReader {
  private readonly v = new Numbers();
  private readonly vt = new Numbers();
  private readonly vn = new Numbers();
  /** A vertex of the mesh for each three that a face names. */
  private readonly known = new Triples();
  private readonly positions = new Numbers();
  private readonly uvs = new Numbers();
  private readonly normals = new Numbers();
  private readonly triangles = new Map<string, Numbers>();
  private slot = '';
  /** The indices of a corner. */
  private readonly read = new Int32Array(3);
  /** The vertices of a face. */
  private readonly corners: number[] = [];
  private withoutUv = 0;
  private withoutNormal = 0;
  private fans = 0;
  private count = 0;
  private at = 0;
  private line = 0;

  constructor(
    private readonly bytes: Uint8Array,
    private readonly checkpoint: () => void,
  ) {}

  whole(): UserMesh {
    while (this.at < this.bytes.length) {
      if (++this.line % 4096 === 0) this.checkpoint();
      this.statement();
      this.toNextLine();
    }
    const slots: MeshSlot[] = [];
    const indices = new Uint32Array(3 * this.count);
    let from = 0;
    for (const [name, of] of this.triangles) {
      const own = of.values();
      slots.push({ name: name === '' ? 'without a material' : name, triangles: own.length / 3 });
      indices.set(own, from);
      from += own.length;
    }
    const notes = [];
    if (this.fans > 0)
      notes.push(`Faces of more than four corners were cut into triangles from their first corner: ${this.fans}.`);
    const all = this.positions.length / 3;
    if (this.withoutUv > 0 && this.withoutUv < all)
      notes.push('Some faces have no UVs: they show the upper left corner.');
    return userMesh({
      positions: this.positions.floats(),
      uvs: this.withoutUv === all ? null : this.uvs.floats(),
      normals: this.withoutNormal > 0 ? null : this.normals.floats(),
      indices,
      slots,
      notes,
    });
  }

  private statement(): void {
    const word = this.word();
    if (word === 'v') this.numbers(this.v, 3);
    else if (word === 'vt') this.numbers(this.vt, 2, 1);
    else if (word === 'vn') this.numbers(this.vn, 3);
    else if (word === 'f') this.face();
    else if (word === 'usemtl') this.slot = this.restOfLine();
  }

  private numbers(into: Numbers, count: number, needed = count): void {
    for (let i = 0; i < count; i++) {
      const plain = this.plainNumber();
      if (plain !== null) {
        into.push(plain);
        continue;
      }
      const word = this.word();
      if (word === '' && i < needed) this.fail('has too few numbers');
      const value = word === '' ? 0 : Number(word);
      if (!Number.isFinite(value)) this.fail(`has ${word.slice(0, 20)} for a number`);
      into.push(value);
    }
    assertMeshSize(0, into.length / count);
  }

  private face(): void {
    const { corners } = this;
    corners.length = 0;
    for (;;) {
      let corner = this.plainCorner();
      if (corner < 0) {
        const word = this.word();
        if (word === '') break;
        corner = this.corner(word);
      }
      corners.push(corner);
      // one line may be all of the file
      assertMeshSize(this.count + corners.length - 2, this.positions.length / 3);
    }
    if (corners.length < 3) this.fail('is a face of fewer than three corners');
    if (corners.length > 4) this.fans++;
    let own = this.triangles.get(this.slot);
    if (!own) this.triangles.set(this.slot, (own = new Numbers()));
    for (let k = 2; k < corners.length; k++) {
      own.push(corners[0]);
      own.push(corners[k - 1]);
      own.push(corners[k]);
    }
    this.count += corners.length - 2;
  }

  private corner(word: string): number {
    const [v, vt, vn] = word.split('/');
    const place = this.indexOf(v, this.v.length / 3);
    if (place < 0) this.fail(`names no vertex in ${word.slice(0, 20)}`);
    return this.vertexOf(place, this.indexOf(vt, this.vt.length / 2), this.indexOf(vn, this.vn.length / 3));
  }

  /** The vertex of the mesh for a place, a UV and a normal; -1: it is left out. */
  private vertexOf(place: number, uv: number, normal: number): number {
    const known = this.known.find(place, uv, normal);
    if (known >= 0) return known;
    const made = this.positions.length / 3;
    for (let k = 0; k < 3; k++) this.positions.push(this.v.at(3 * place + k));
    this.uvs.push(uv < 0 ? 0 : this.vt.at(2 * uv));
    this.uvs.push(uv < 0 ? 0 : 1 - this.vt.at(2 * uv + 1));
    for (let k = 0; k < 3; k++) this.normals.push(normal < 0 ? 0 : this.vn.at(3 * normal + k));
    if (uv < 0) this.withoutUv++;
    if (normal < 0) this.withoutNormal++;
    this.known.add(place, uv, normal, made);
    return made;
  }

  /** From 1, or from the end where it is negative. @returns from 0; -1: it is left out. */
  private indexOf(word: string | undefined, count: number): number {
    if (word === undefined || word === '') return -1;
    const given = Number(word);
    const index = given < 0 ? count + given : given - 1;
    if (!Number.isInteger(given) || index < 0 || index >= count) this.fail(`names ${word.slice(0, 20)} of ${count}`);
    return index;
  }

  /**
   * A decimal number without an exponent, of at most 15 digits: a whole number by a power of ten is exact (W. D. Clinger, "How
   * to Read Floating Point Numbers Accurately", 1990). @returns null, and nothing read, where the next word is none.
   */
  private plainNumber(): number | null {
    const { bytes } = this;
    let at = this.at;
    while (bytes[at] === SPACE || bytes[at] === TAB) at++;
    const isMinus = bytes[at] === MINUS;
    if (isMinus) at++;
    let [value, digits, behind] = [0, 0, -1];
    for (; ; at++) {
      const c = bytes[at];
      if (c >= ZERO && c < ZERO + 10) {
        value = 10 * value + c - ZERO;
        digits++;
        if (behind >= 0) behind++;
      } else if (c === POINT && behind < 0) behind = 0;
      else break;
    }
    if (digits === 0 || digits > MOST_DIGITS || !this.endsWord(at)) return null;
    this.at = at;
    const found = behind > 0 ? value / POWERS[behind] : value;
    return isMinus ? -found : found;
  }

  /** A corner by indices from 1. @returns -1, and nothing read, where the next word is none of things that there are. */
  private plainCorner(): number {
    const { bytes } = this;
    let at = this.at;
    while (bytes[at] === SPACE || bytes[at] === TAB) at++;
    const { read } = this;
    read[0] = read[1] = read[2] = 0;
    for (let k = 0; ; k++) {
      let value = 0;
      for (let c = bytes[at]; c >= ZERO && c < ZERO + 10 && value < 1e9; c = bytes[++at]) value = 10 * value + c - ZERO;
      read[k] = value;
      if (k === 2 || bytes[at] !== SLASH) break;
      at++;
    }
    const v = read[0];
    const vt = read[1];
    const vn = read[2];
    const isThere = v >= 1 && v <= this.v.length / 3 && vt <= this.vt.length / 2 && vn <= this.vn.length / 3;
    if (!isThere || !this.endsWord(at) || this.namesNothing(at)) return -1;
    this.at = at;
    return this.vertexOf(v - 1, vt - 1, vn - 1);
  }

  /** Whether an index of 0 was written, which stands for nothing. */
  private namesNothing(end: number): boolean {
    const { bytes } = this;
    for (let at = this.at; at < end; at++) {
      const isFirst = at === this.at || bytes[at - 1] === SLASH || bytes[at - 1] <= SPACE;
      if (bytes[at] === ZERO && isFirst) return true;
    }
    return false;
  }

  private endsWord(at: number): boolean {
    return at >= this.bytes.length || this.bytes[at] <= SPACE || this.bytes[at] === HASH;
  }

  /** The next word of the line; empty at its end. */
  private word(): string {
    const { bytes } = this;
    for (;;) {
      const c = bytes[this.at];
      if (c === SPACE || c === TAB || c === RETURN) this.at++;
      else if (c === BACKSLASH && this.endsLine(this.at + 1)) {
        this.at = bytes.indexOf(NEWLINE, this.at) + 1;
        this.line++;
      } else break;
    }
    const from = this.at;
    let to = from;
    while (to < bytes.length && bytes[to] > SPACE && bytes[to] !== HASH && to - from < 256) to++;
    if (bytes[from] === SLASH) this.fail('has a face without a vertex');
    this.at = to;
    let text = '';
    for (let i = from; i < to; i++) text += String.fromCharCode(bytes[i]);
    return text;
  }

  private endsLine(at: number): boolean {
    return this.bytes[at] === NEWLINE || (this.bytes[at] === RETURN && this.bytes[at + 1] === NEWLINE);
  }

  private restOfLine(): string {
    const end = this.bytes.indexOf(NEWLINE, this.at);
    const text = this.bytes.subarray(this.at, Math.min(end < 0 ? this.bytes.length : end, this.at + 256));
    try {
      return textOf(text).trim();
    } catch {
      return String.fromCharCode(...text).trim(); // an older encoding
    }
  }

  private toNextLine(): void {
    const { bytes } = this;
    let { at } = this; // most lines were read to their end
    while (at < bytes.length && bytes[at] !== NEWLINE) at++;
    this.at = at + 1;
  }

  private fail(what: string): never {
    throw new SieveError('corrupt', `Line ${this.line} of the OBJ ${what}.`, 'Save the mesh again.');
  }
}
