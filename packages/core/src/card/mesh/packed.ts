import { textOf, utf8 } from '../../codec/utf8.ts';
import { SieveError } from '../../errors.ts';
import { indicesOf, type SurfaceMesh } from '../surface-mesh.ts';
import { assertMeshSize, type SlottedMesh } from './user-mesh.ts';
import type { MeshFacts } from './mesh-facts.ts';

const MAGIC = 0x31534d4c; // LMS1

/** A mesh and its facts on their way to a page: little-endian; magic, bytes of the facts, vertices, triangles, then each. */
export function packMesh({ positions, normals, uvs, indices }: SurfaceMesh, facts: MeshFacts): Uint8Array {
  const said = utf8(JSON.stringify(facts));
  const padded = Math.ceil(said.length / 4) * 4;
  const out = new Uint8Array(16 + padded + 4 * (positions.length + normals.length + uvs.length + indices.length));
  new Uint32Array(out.buffer, 0, 4).set([MAGIC, said.length, positions.length / 3, indices.length / 3]);
  out.set(said, 16);
  let at = 16 + padded;
  for (const values of [positions, normals, uvs]) {
    new Float32Array(out.buffer, at, values.length).set(values);
    at += 4 * values.length;
  }
  new Uint32Array(out.buffer, at, indices.length).set(indices);
  return out;
}

/** @param bytes - At a multiple of four of their buffer. @throws SieveError `corrupt`. */
export function unpackMesh({ buffer, byteOffset, length }: Uint8Array): { mesh: SlottedMesh; facts: MeshFacts } {
  if (length < 16) throw corrupt();
  const [magic, said, vertices, triangles] = new Uint32Array(buffer, byteOffset, 4);
  const padded = Math.ceil(said / 4) * 4;
  assertMeshSize(triangles, vertices);
  if (magic !== MAGIC || length !== 16 + padded + 4 * (8 * vertices + 3 * triangles)) throw corrupt();
  const facts = JSON.parse(textOf(new Uint8Array(buffer, byteOffset + 16, said))) as MeshFacts;
  let at = byteOffset + 16 + padded;
  const floats = (count: number) => {
    const values = new Float32Array(buffer, at, count);
    at += 4 * count;
    return values;
  };
  const [positions, normals, uvs] = [floats(3 * vertices), floats(3 * vertices), floats(2 * vertices)];
  const indices = indicesOf(vertices, new Uint32Array(buffer, at, 3 * triangles));
  return { mesh: { positions, normals, uvs, indices, slots: facts.slots }, facts };
}

const corrupt = () => new SieveError('corrupt', 'The mesh came here damaged.', 'Open the piece again.');
