import { looksLikeObj, meshFacts, readObj, SieveError, type MeshFacts, type UserMesh } from '@lithe-sieve/core';
import { looksLikeGlb, looksLikeGltf, readUserGlb } from './glb/user-mesh.ts';

/** Whether bytes may be a mesh that is read here. */
export const looksLikeMesh = (bytes: Uint8Array): boolean =>
  looksLikeGlb(bytes) || looksLikeGltf(bytes) || looksLikeObj(bytes);

/**
 * A mesh of somebody, by what its bytes are.
 *
 * @throws SieveError `unknown-format` where they are none that is read.
 */
export async function readUserMesh(bytes: Uint8Array): Promise<{ mesh: UserMesh; facts: MeshFacts }> {
  if (looksLikeGlb(bytes) || looksLikeGltf(bytes)) {
    const mesh = await readUserGlb(bytes);
    return { mesh, facts: meshFacts(mesh, looksLikeGlb(bytes) ? 'glb' : 'gltf') };
  }
  if (looksLikeObj(bytes)) {
    const mesh = readObj(bytes);
    return { mesh, facts: meshFacts(mesh, 'obj') };
  }
  throw new SieveError(
    'unknown-format',
    'This is no mesh that is read here.',
    'Save it as GLB, glTF with its buffers inside, or OBJ.',
  );
}
