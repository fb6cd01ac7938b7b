import { textOf } from '../../codec/utf8.ts';
import { SieveError } from '../../errors.ts';
import { Numbers } from './numbers.ts';
import { assertMeshSize, userMesh, type MeshSlot, type UserMesh } from './user-mesh.ts';

const NEWLINE = 10;
const SPACE = 32;
const TAB = 9;
const RETURN = 13;
const BACKSLASH = 92;
const HASH = 35;
const SLASH = 47;

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
  return new ObjReader(bytes, checkpoint).read();
}

class ObjReader {
  private readonly v = new Numbers();
  private readonly vt = new Numbers();
  private readonly vn = new Numbers();
  /** A vertex of the mesh for each three that a face names. */
  private readonly known = new Map<string, number>();
  private readonly positions = new Numbers();
  private readonly uvs = new Numbers();
  private readonly normals = new Numbers();
  private readonly triangles = new Map<string, Numbers>();
  private slot = '';
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

  read(): UserMesh {
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
      const word = this.word();
      if (word === '' && i < needed) this.fail('has too few numbers');
      const value = word === '' ? 0 : Number(word);
      if (!Number.isFinite(value)) this.fail(`has ${word.slice(0, 20)} for a number`);
      into.push(value);
    }
    assertMeshSize(0, into.length / count);
  }

  private face(): void {
    const corners: number[] = [];
    for (let word = this.word(); word !== ''; word = this.word()) {
      corners.push(this.corner(word));
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
    const known = word.includes('-') ? undefined : this.known.get(word); // from the end, the same word is another vertex
    if (known !== undefined) return known;
    const [v, vt, vn] = word.split('/');
    const place = this.indexOf(v, this.v.length / 3);
    if (place < 0) this.fail(`names no vertex in ${word.slice(0, 20)}`);
    const uv = this.indexOf(vt, this.vt.length / 2);
    const normal = this.indexOf(vn, this.vn.length / 3);
    const made = this.positions.length / 3;
    for (let k = 0; k < 3; k++) this.positions.push(this.v.at(3 * place + k));
    this.uvs.push(uv < 0 ? 0 : this.vt.at(2 * uv));
    this.uvs.push(uv < 0 ? 0 : 1 - this.vt.at(2 * uv + 1));
    for (let k = 0; k < 3; k++) this.normals.push(normal < 0 ? 0 : this.vn.at(3 * normal + k));
    if (uv < 0) this.withoutUv++;
    if (normal < 0) this.withoutNormal++;
    if (!word.includes('-')) this.known.set(word, made);
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
    const end = this.bytes.indexOf(NEWLINE, this.at);
    this.at = end < 0 ? this.bytes.length : end + 1;
  }

  private fail(what: string): never {
    throw new SieveError('corrupt', `Line ${this.line} of the OBJ ${what}.`, 'Save the mesh again.');
  }
}
