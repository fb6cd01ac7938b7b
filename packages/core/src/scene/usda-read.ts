import { indicesOf, type SurfaceMesh } from '../card/surface-mesh.ts';
import { SieveError } from '../errors.ts';
import { turned } from './scene.ts';
import type { SceneSays } from './says.ts';

/** A value as it stands: numbers and texts in lists of lists; `@…@` and `<…>` as texts. */
type Value = number | string | Value[];

/** A prim with its properties by their whole name; a connection has `.connect` at its end. */
interface Prim {
  kind: string;
  name: string;
  path: string;
  properties: Map<string, Value>;
  metadata: Map<string, Value>;
  children: Prim[];
}

/** Deeper than any layer that a card needs; more would be an attack on the stack. */
const DEEPEST = 32;
const wrong = (why: string) => new SieveError('corrupt', `It is no USD layer that this reader takes: ${why}.`);

/** What a layer says, and its meshes. @throws SieveError `corrupt`. */
export function readUsda(text: string): {
  says: SceneSays;
  parts: { name: string; mesh: SurfaceMesh }[];
  metres: number;
  up: string;
} {
  const layer = new Parser(text).layer();
  const prims = all(layer);
  const meshes = prims.filter((p) => p.kind === 'Mesh');
  if (meshes.length === 0) throw wrong('it has no mesh');
  const byPath = new Map(prims.map((p) => [p.path, p]));
  return {
    says: saysOf(meshes[0], byPath, prims),
    parts: meshes.map((mesh) => ({ name: mesh.name, mesh: meshOf(mesh) })),
    metres: Number(layer.metadata.get('metersPerUnit') ?? 0.01), // the default of UsdGeom
    up: String(layer.metadata.get('upAxis') ?? 'Y'),
  };
}

function all(prim: Prim): Prim[] {
  return prim.children.flatMap((child) => [child, ...all(child)]);
}

function saysOf(mesh: Prim, byPath: Map<string, Prim>, prims: Prim[]): SceneSays {
  const material = byPath.get(pathOf(mesh.properties.get('material:binding')) ?? '');
  const surface = byPath.get(pathOf(material?.properties.get('outputs:surface.connect')) ?? '');
  if (surface?.properties.get('info:id') !== 'UsdPreviewSurface') throw wrong('its mesh has no UsdPreviewSurface');
  const input = (name: string) => surface.properties.get(`inputs:${name}`);
  const textureOf = (name: string) => {
    const at = surface.properties.get(`inputs:${name}.connect`);
    const texture = byPath.get(pathOf(at) ?? '');
    if (at === undefined) return null;
    if (texture?.properties.get('info:id') !== 'UsdUVTexture') throw wrong(`its ${name} comes from no texture`);
    const file = fileOf(texture.properties.get('inputs:file'));
    return { texture, file, output: String(at).replace(/^.*outputs:|>$/g, '') };
  };
  const [colour, opacity] = [textureOf('diffuseColor'), textureOf('opacity')];
  // both default to 0 and 1 (UsdPreviewSurface, 2.5): a threshold above 0 is a mask, else what is less than opaque blends
  const threshold = Number(input('opacityThreshold') ?? 0);
  const plain = Number(input('opacity') ?? 1);
  const scale = opacity?.texture.properties.get('inputs:scale');
  return {
    mode: !opacity && plain >= 1 ? 'opaque' : threshold > 0 ? 'mask' : 'blend',
    cutoff: threshold,
    opacity: opacity ? Number(Array.isArray(scale) ? scale[3] : 1) : plain,
    doubleSided: Number(mesh.properties.get('doubleSided') ?? 0) === 1,
    colour: colour?.file ?? null,
    alpha: opacity && { file: opacity.file, channel: opacity.output === 'a' ? 'alpha' : 'luminance' },
    files: prims.flatMap((p) => (p.properties.has('inputs:file') ? [fileOf(p.properties.get('inputs:file'))] : [])),
  };
}

const pathOf = (value: Value | undefined) => (typeof value === 'string' ? /^<([^.>]*)/.exec(value)?.[1] : undefined);
const fileOf = (value: Value | undefined) => String(value ?? '').replace(/^@(\.\/)?|@$/g, '');

function meshOf({ name, properties }: Prim): SurfaceMesh {
  const numbers = (property: string, size: number) => {
    const value = properties.get(property);
    if (!Array.isArray(value)) throw wrong(`the mesh ${name} has no ${property}`);
    const flat = size === 1 ? value : value.flat();
    if (!flat.every((v) => typeof v === 'number')) throw wrong(`${property} of the mesh ${name} are no numbers`);
    return flat;
  };
  const counts = numbers('faceVertexCounts', 1);
  if (counts.some((n) => n !== 3)) throw wrong(`the mesh ${name} has faces that are no triangles`);
  const positions = Float32Array.from(numbers('points', 3));
  const indices = numbers('faceVertexIndices', 1);
  if (indices.some((i) => !Number.isInteger(i) || i < 0 || 3 * i >= positions.length)) {
    throw wrong(`the mesh ${name} names points that it does not have`);
  }
  const rootTip = properties.has('primvars:rootTip') ? numbers('primvars:rootTip', 1) : null;
  return {
    positions,
    normals: Float32Array.from(numbers('normals', 3)),
    uvs: Float32Array.from(numbers('primvars:st', 2), (v, i) => (i % 2 ? turned(Math.fround(v)) : v)),
    indices: indicesOf(positions.length / 3, indices),
    ...(rootTip && { rootTip: Float32Array.from(rootTip) }),
  };
}

/**
 * The grammar of USD's text files as far as layers of one's own need it: prims, properties, connections, metadata; no
 * variants, no time samples, no references to other layers.
 */
class Parser {
  private at = 0;
  private readonly text: string;

  constructor(text: string) {
    if (!text.startsWith('#usda 1.0')) throw wrong('it does not begin with #usda 1.0');
    this.text = text;
  }

  layer(): Prim {
    const layer: Prim = { kind: '', name: '', path: '', properties: new Map(), metadata: new Map(), children: [] };
    this.space();
    if (this.next() === '(') layer.metadata = this.metadata();
    while (!this.ended()) layer.children.push(this.prim('', 0));
    return layer;
  }

  private prim(parent: string, depth: number): Prim {
    if (depth > DEEPEST) throw wrong('its prims are nested too deeply');
    const specifier = this.word();
    if (specifier !== 'def' && specifier !== 'over' && specifier !== 'class')
      throw wrong(`${specifier} begins no prim`);
    const kind = this.next() === '"' ? '' : this.word();
    const name = this.quoted();
    const prim: Prim = {
      kind,
      name,
      path: `${parent}/${name}`,
      properties: new Map(),
      metadata: new Map(),
      children: [],
    };
    if (this.next() === '(') prim.metadata = this.metadata();
    this.take('{');
    while (this.next() !== '}') {
      if (/^(def|over|class)\b/.test(this.text.slice(this.at, this.at + 6)))
        prim.children.push(this.prim(prim.path, depth + 1));
      else this.property(prim);
    }
    this.take('}');
    return prim;
  }

  /** `uniform token info:id = "…" ( … )`. */
  private property({ properties }: Prim): void {
    let words = [this.word()];
    while (/[A-Za-z_]/.test(this.next())) words = [...words, this.word()];
    const name = words[words.length - 1];
    if (this.next() === '=') {
      this.take('=');
      properties.set(name, this.value());
    }
    if (this.next() === '(') this.metadata();
  }

  private metadata(): Map<string, Value> {
    const out = new Map<string, Value>();
    this.take('(');
    while (this.next() !== ')') {
      if (this.next() === '"') {
        this.quoted(); // a comment
        continue;
      }
      let name = this.word();
      while (/[A-Za-z_]/.test(this.next())) name = this.word();
      this.take('=');
      out.set(name, this.value());
    }
    this.take(')');
    return out;
  }

  private value(depth = 0): Value {
    if (depth > DEEPEST) throw wrong('its values are nested too deeply');
    const first = this.next();
    if (first === '"') return this.quoted();
    if (first === '@' || first === '<') return this.enclosed(first, first === '@' ? '@' : '>');
    if (first === '(' || first === '[') {
      this.take(first);
      const end = first === '(' ? ')' : ']';
      const list: Value[] = [];
      while (this.next() !== end) {
        list.push(this.value(depth + 1));
        if (this.next() === ',') this.take(',');
      }
      this.take(end);
      return list;
    }
    const found = this.match(/[^\s,()[\]{}=]+/y);
    const number = Number(found);
    return Number.isNaN(number) ? found : number;
  }

  private word(): string {
    return this.match(/[A-Za-z_][A-Za-z0-9_:.[\]]*/y);
  }

  private quoted(): string {
    return this.enclosed('"', '"').slice(1, -1);
  }

  private enclosed(open: string, close: string): string {
    this.take(open, false);
    const end = this.text.indexOf(close, this.at);
    if (end < 0) throw wrong(`a ${open} is not closed`);
    const found = this.text.slice(this.at - 1, end + 1);
    this.at = end + 1;
    this.space();
    return found;
  }

  private match(pattern: RegExp): string {
    pattern.lastIndex = this.at;
    const found = pattern.exec(this.text)?.[0];
    if (!found) throw wrong(`${JSON.stringify(this.text.slice(this.at, this.at + 12))} is not understood`);
    this.at += found.length;
    this.space();
    return found;
  }

  private take(sign: string, withSpace = true): void {
    if (this.text[this.at] !== sign)
      throw wrong(`${sign} is missing before ${JSON.stringify(this.text.slice(this.at, this.at + 12))}`);
    this.at++;
    if (withSpace) this.space();
  }

  private next(): string {
    return this.text[this.at] ?? '';
  }

  private ended(): boolean {
    return this.at >= this.text.length;
  }

  private space(): void {
    const blank = /(?:\s+|;|#[^\n]*)*/y;
    blank.lastIndex = this.at;
    this.at += blank.exec(this.text)?.[0].length ?? 0;
  }
}
