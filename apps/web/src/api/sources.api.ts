import {
  sourceFactsSchema,
  storedMeshSchema,
  storedSourceSchema,
  type StoredMesh,
  type StoredSource,
} from '@lithe-sieve/contract';
import { unpackMesh, type SourceFacts } from '@lithe-sieve/core';
import { ApiError, request, requestJson, toApiError, unreachable } from './http';

/** The address of a small picture of a source. */
export const sourcePicture = (sha256: string): string => `/api/sources/${sha256}/picture.png`;

/** A picture of a source that fills a screen. */
export const fetchSourceView = async (sha256: string): Promise<Blob> =>
  (await request(`/sources/${sha256}/view.png`)).blob();

/** Sends a file as it is. */
export function uploadSource(
  file: File,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<StoredSource> {
  return upload('/api/sources', (answer) => storedSourceSchema.parse(answer), file, onProgress, signal);
}

/** Sends a mesh as it is. */
export function uploadMesh(file: File, onProgress: (share: number) => void, signal: AbortSignal): Promise<StoredMesh> {
  return upload('/api/sources/meshes', (answer) => storedMeshSchema.parse(answer), file, onProgress, signal);
}

/** Uses XMLHttpRequest, since fetch reports no upload progress. */
function upload<T>(
  to: string,
  read: (answer: unknown) => T,
  file: File,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<T> {
  return new Promise((resolve, reject) => {
    const xhr = new XMLHttpRequest();
    xhr.open('POST', `${to}?name=${encodeURIComponent(file.name)}`);
    xhr.responseType = 'json';
    xhr.upload.onprogress = (e) => onProgress(e.lengthComputable ? e.loaded / e.total : 0);
    xhr.onload = () => {
      if (xhr.status >= 200 && xhr.status < 300) resolve(read(xhr.response));
      else reject(toApiError(xhr.status, xhr.response));
    };
    xhr.onerror = () => reject(unreachable());
    xhr.onabort = () => reject(new ApiError(0, 'cancelled', `${file.name}: cancelled.`, ''));
    signal.addEventListener('abort', () => xhr.abort());
    xhr.send(file);
  });
}

/** A mesh that a piece lies on, as its file has it, and what it holds. */
export async function fetchMesh(sha256: string): Promise<ReturnType<typeof unpackMesh>> {
  return unpackMesh(new Uint8Array(await (await request(`/sources/${sha256}/mesh`)).arrayBuffer()));
}

export async function fetchSourceBytes(sha256: string): Promise<Uint8Array> {
  return new Uint8Array(await (await request(`/sources/${sha256}/bytes`)).arrayBuffer());
}

export function fetchSourceFacts(sha256: string): Promise<SourceFacts> {
  return requestJson(`/sources/${sha256}/facts`, sourceFactsSchema);
}
