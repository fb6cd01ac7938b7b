import { sourceFactsSchema, storedSourceSchema, type StoredSource } from '@lithe-sieve/contract';
import type { SourceFacts } from '@lithe-sieve/core';
import { ApiError, request, requestJson, toApiError, unreachable } from './http';

/** The address of a small picture of a source. */
export const sourcePicture = (sha256: string): string => `/api/sources/${sha256}/picture.png`;

/** Sends a file as it is. Uses XMLHttpRequest, since fetch reports no upload progress. */
export function uploadSource(
  file: File,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<StoredSource> {
  return new Promise((resolve, reject) => {
    const xhr = new XMLHttpRequest();
    xhr.open('POST', `/api/sources?name=${encodeURIComponent(file.name)}`);
    xhr.responseType = 'json';
    xhr.upload.onprogress = (e) => onProgress(e.lengthComputable ? e.loaded / e.total : 0);
    xhr.onload = () => {
      if (xhr.status >= 200 && xhr.status < 300) resolve(storedSourceSchema.parse(xhr.response));
      else reject(toApiError(xhr.status, xhr.response));
    };
    xhr.onerror = () => reject(unreachable());
    xhr.onabort = () => reject(new ApiError(0, 'cancelled', `${file.name}: cancelled.`, ''));
    signal.addEventListener('abort', () => xhr.abort());
    xhr.send(file);
  });
}

export async function fetchSourceBytes(sha256: string): Promise<Uint8Array> {
  return new Uint8Array(await (await request(`/sources/${sha256}/bytes`)).arrayBuffer());
}

export function fetchSourceFacts(sha256: string): Promise<SourceFacts> {
  return requestJson(`/sources/${sha256}/facts`, sourceFactsSchema);
}
