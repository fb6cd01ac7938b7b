import { Primitive, type Accessor, type GLTF, type JSONDocument, type Node } from '@gltf-transform/core';
import { assertMeshSize, SieveError, userMesh, type MeshSlot, type UserMesh } from '@lithe-sieve/core';
import { glbIo } from './io.ts';

/** Whether a file is a GLB: its first four bytes (glTF 2.0 §4.4.2). */
export const looksLikeGlb = (bytes: Uint8Array): boolean => String.fromCharCode(...bytes.subarray(0, 4)) === 'glTF';

/** Whether a file may be a glTF: JSON that begins with something that a glTF has (glTF 2.0 §5.17). */
export const looksLikeGltf = (bytes: Uint8Array): boolean =>
  GLTF_BEGINS.test(new TextDecoder().decode(bytes.subarray(0, 4096)));
const GLTF_BEGINS =
  /^\s*\{[^]*"(asset|accessors|animations|buffers|bufferViews|extensionsUsed|materials|meshes|nodes|scene|scenes)"\s*:/;

/** Extensions that change how triangles are stored; without a reader for one, nothing of the mesh can be read. */
const READABLE = new Set(['KHR_mesh_quantization', 'KHR_texture_transform']);

/**
 * All meshes of the scene of a GLB, or of a glTF with its buffers inside, in one, each where its nodes put it; a slot for each material. Skins are left as they
 * were bound, morphs aside. Pictures and materials are not read.
 *
 * @throws SieveError `corrupt`, `too-large`, `unsupported`.
 */
export async function readUserGlb(bytes: Uint8Array): Promise<UserMesh> {
  const container = await within(() => (looksLikeGlb(bytes) ? glbIo.binaryToJSON(bytes) : asDocument(bytes)));
  assertReadable(container);
  const document = await within(() => glbIo.readJSON(bare(container)));
  const scene = document.getRoot().getDefaultScene() ?? document.getRoot().listScenes()[0];
  const nodes = scene ? scene.listChildren() : document.getRoot().listNodes();
  const parts: Part[] = [];
  let triangles = 0;
  const visit = (node: Node) => {
    const matrix = node.getWorldMatrix();
    for (const primitive of node.getMesh()?.listPrimitives() ?? []) {
      const part = partOf(primitive, matrix);
      if (!part) continue;
      triangles += part.indices.length / 3;
      assertMeshSize(triangles, 0);
      parts.push(part);
    }
    node.listChildren().forEach(visit);
  };
  nodes.forEach(visit);
  return joined(parts);
}

function asDocument(bytes: Uint8Array): Promise<JSONDocument> {
  const json = JSON.parse(new TextDecoder().decode(bytes)) as GLTF.IGLTF;
  if (json.asset?.version !== '2.0') throw new Error('it is no glTF 2.0.');
  return Promise.resolve({ json, resources: {} });
}

/** What a library throws at a broken file, as ours. */
async function within<T>(read: () => Promise<T>): Promise<T> {
  try {
    return await read();
  } catch (error) {
    const why = error instanceof Error ? error.message : String(error);
    throw new SieveError(
      'corrupt',
      `The file cannot be read as glTF: ${why}`,
      'Export it again, with its buffers inside.',
    );
  }
}

function assertReadable({ json }: JSONDocument): void {
  const unread = (json.extensionsRequired ?? []).find(
    (name) => !READABLE.has(name) && !name.startsWith('KHR_materials'),
  );
  if (unread) {
    throw new SieveError('unsupported', `The GLB needs ${unread}, which is not read here.`, 'Export it without that.');
  }
  const beside = (json.buffers ?? []).find(({ uri }) => uri && !uri.startsWith('data:'))?.uri;
  if (beside) {
    const remedy = 'Export it as GLB, or with its buffers inside.';
    throw new SieveError('unsupported', `The file needs ${beside.slice(0, 60)}, which lies beside it.`, remedy);
  }
  assertTree(json.nodes ?? []);
  assertShown(json);
  // a sparse accessor may claim any number of elements without a byte behind them
  for (const { count } of json.accessors ?? []) assertMeshSize(count / 3, 0);
}

/**
 * Any number of nodes may show one mesh: what they come to is reckoned before the library makes an object of each.
 *
 * @throws SieveError `too-large`.
 */
function assertShown({ scenes = [], scene = 0, nodes = [], meshes = [], accessors = [] }: GLTF.IGLTF): void {
  if (nodes.length > MOST_NODES) {
    throw new SieveError(
      'too-large',
      `The GLB has ${nodes.length.toLocaleString('en')} nodes; at most ${MOST_NODES.toLocaleString('en')} are read.`,
      'Join its parts into fewer meshes, then export it again.',
    );
  }
  const verticesOf = (mesh: number) =>
    (meshes[mesh]?.primitives ?? []).reduce((sum, p) => sum + (accessors[p.attributes.POSITION]?.count ?? 0), 0);
  const waiting = [...(scenes[scene]?.nodes ?? nodes.keys())];
  let vertices = 0;
  for (let node = waiting.pop(); node !== undefined; node = waiting.pop()) {
    const { mesh, children = [] } = nodes[node] ?? {};
    if (scenes[scene]) waiting.push(...children);
    if (mesh !== undefined) vertices += verticesOf(mesh);
    assertMeshSize(0, vertices);
  }
}

/** The library takes a second for as many. */
const MOST_NODES = 20_000;

/** @throws SieveError where a node hangs on two others, or on itself: nodes are trees (glTF 2.0 §3.5.2). */
function assertTree(nodes: readonly GLTF.INode[]): void {
  const parents = new Map<number, number>();
  const corrupt = () => new SieveError('corrupt', 'Nodes of the GLB are no tree.', 'Export it again.');
  nodes.forEach(({ children = [] }, parent) => {
    for (const child of children) {
      if (parents.has(child) || child >= nodes.length) throw corrupt();
      parents.set(child, parent);
    }
  });
  for (let i = 0; i < nodes.length; i++) {
    let at: number | undefined = i;
    for (let steps = 0; at !== undefined; steps++, at = parents.get(at)) if (steps > MOST_DEPTH) throw corrupt();
  }
}

/** Nodes in nodes, at most. */
const MOST_DEPTH = 1000;

/** Without what is not read, so that no picture is copied. */
function bare({ json, resources }: JSONDocument): JSONDocument {
  const { asset, accessors = [], bufferViews = [], buffers = [], meshes = [], nodes = [], scenes, scene } = json;
  const materials = (json.materials ?? []).map(({ name }) => ({ name }));
  const plain = meshes.map(({ name, primitives }) => ({
    name,
    primitives: primitives.map(({ attributes, indices, material, mode }) => {
      const { POSITION, NORMAL, TEXCOORD_0 } = attributes;
      const own = Object.fromEntries(
        Object.entries({ POSITION, NORMAL, TEXCOORD_0 }).filter(([, i]) => i !== undefined),
      );
      return { attributes: own, ...(indices !== undefined && { indices }), ...(material !== undefined && { material }), ...(mode !== undefined && { mode }) }; // prettier-ignore
    }),
  }));
  const placed = nodes.map(
    ({ mesh, children, matrix, translation, rotation, scale }) =>
    Object.fromEntries(Object.entries({ mesh, children, matrix, translation, rotation, scale }).filter(([, v]) => v !== undefined)), // prettier-ignore
  );
  const used = { asset, accessors, bufferViews, meshes: plain, nodes: placed, materials, scenes, scene };
  // the library changes what it is given; buffers may hold all of the file as text, and are not copied
  return { json: { ...(JSON.parse(JSON.stringify(used)) as GLTF.IGLTF), buffers }, resources };
}

interface Part {
  slot: string;
  positions: Float32Array;
  normals: Float32Array | null;
  uvs: Float32Array | null;
  indices: number[];
}

function partOf(primitive: Primitive, m: ArrayLike<number>): Part | null {
  const places = primitive.getAttribute('POSITION');
  const indices = trianglesOf(primitive, places?.getCount() ?? 0);
  if (!places || !indices) return null;
  const beyond = indices.find((i) => i >= places.getCount()); // it would be a vertex of the next part
  if (beyond !== undefined) {
    throw new SieveError('corrupt', `A face names vertex ${beyond} of ${places.getCount()}.`, 'Save the mesh again.');
  }
  const normals = primitive.getAttribute('NORMAL');
  const uvs = primitive.getAttribute('TEXCOORD_0');
  // normals by the transpose of the inverse: by the cofactors, up to a length
  const c = [
    m[5] * m[10] - m[6] * m[9], m[6] * m[8] - m[4] * m[10], m[4] * m[9] - m[5] * m[8],
    m[2] * m[9] - m[1] * m[10], m[0] * m[10] - m[2] * m[8], m[1] * m[8] - m[0] * m[9],
    m[1] * m[6] - m[2] * m[5], m[2] * m[4] - m[0] * m[6], m[0] * m[5] - m[1] * m[4],
  ]; // prettier-ignore
  const mirrors = m[0] * c[0] + m[4] * c[3] + m[8] * c[6] < 0;
  if (mirrors) for (let t = 0; t < indices.length; t += 3) [indices[t + 1], indices[t + 2]] = [indices[t + 2], indices[t + 1]]; // prettier-ignore
  return {
    slot: primitive.getMaterial()?.getName() ?? '',
    positions: mapped(places, 3, ([x, y, z]) =>
      [0, 1, 2].map((k) => m[k] * x + m[4 + k] * y + m[8 + k] * z + m[12 + k]),
    ),
    normals: normals && mapped(normals, 3, ([x, y, z]) => [0, 1, 2].map((k) => (mirrors ? -1 : 1) * (c[k] * x + c[3 + k] * y + c[6 + k] * z))), // prettier-ignore
    uvs: uvs && mapped(uvs, 2, (uv) => uv),
    indices,
  };
}

function mapped(accessor: Accessor, numbers: number, change: (element: number[]) => number[]): Float32Array {
  const out = new Float32Array(numbers * accessor.getCount());
  const element = [0, 0, 0];
  for (let i = 0; i < accessor.getCount(); i++) {
    accessor.getElement(i, element);
    out.set(change(element).slice(0, numbers), numbers * i);
  }
  return out;
}

/** Strips and fans as triangles (glTF 2.0 §3.7.2.1); null for points and lines. */
function trianglesOf(primitive: Primitive, vertices: number): number[] | null {
  const own = primitive.getIndices()?.getArray() as Uint32Array | null | undefined;
  const order: number[] = own ? Array.from(own) : Array.from({ length: vertices }, (_, i) => i);
  const { TRIANGLES, TRIANGLE_STRIP, TRIANGLE_FAN } = Primitive.Mode;
  switch (primitive.getMode()) {
    case TRIANGLES:
      return order.slice(0, order.length - (order.length % 3));
    case TRIANGLE_STRIP:
      return order.slice(2).flatMap((c, i) => [order[i], order[i + 1 + (i % 2)], i % 2 === 0 ? c : order[i + 1]]);
    case TRIANGLE_FAN:
      return order.slice(2).flatMap((c, i) => [order[i + 1], c, order[0]]);
    default:
      return null;
  }
}

function joined(parts: readonly Part[]): UserMesh {
  const vertices = parts.reduce((sum, p) => sum + p.positions.length / 3, 0);
  const triangles = parts.reduce((sum, p) => sum + p.indices.length / 3, 0);
  const notes: string[] = [];
  const some = (what: 'normals' | 'uvs') => parts.some((p) => p[what]);
  const all = (what: 'normals' | 'uvs') => parts.every((p) => p[what]);
  if (some('uvs') && !all('uvs')) notes.push('Some parts have no UVs: they show the upper left corner.');
  const names = [...new Set(parts.map((p) => p.slot))];
  const byslot = names.flatMap((name) => parts.filter((p) => p.slot === name));
  const out = {
    positions: new Float32Array(3 * vertices),
    normals: all('normals') ? new Float32Array(3 * vertices) : null,
    uvs: some('uvs') ? new Float32Array(2 * vertices) : null,
    indices: new Uint32Array(3 * triangles),
  };
  let [vertex, index] = [0, 0];
  for (const part of byslot) {
    out.positions.set(part.positions, 3 * vertex);
    if (part.normals) out.normals?.set(part.normals, 3 * vertex);
    if (part.uvs) out.uvs?.set(part.uvs, 2 * vertex);
    for (const i of part.indices) out.indices[index++] = vertex + i;
    vertex += part.positions.length / 3;
  }
  const slots: MeshSlot[] = names.map((name) => ({
    name: name === '' ? 'without a material' : name,
    triangles: parts.reduce((sum, p) => sum + (p.slot === name ? p.indices.length / 3 : 0), 0),
  }));
  return userMesh({ ...out, slots, notes });
}
