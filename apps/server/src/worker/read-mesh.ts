import { packMesh, uvPicture } from '@lithe-sieve/core';
import { readUserMesh } from '@lithe-sieve/host';
import type { MeshRead, ReadMeshTask } from './tasks.ts';

/** Reads a mesh once, in full, so that nothing broken is stored; with a picture of its UVs. */
export async function readMesh({ bytes }: ReadMeshTask): Promise<MeshRead> {
  const { mesh, facts } = await readUserMesh(bytes);
  const { width, height, data } = uvPicture(mesh);
  return { facts, packed: packMesh(mesh, facts), picture: { width, height, rgba: data } };
}
