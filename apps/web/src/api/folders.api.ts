import { followEventSchema, folderListSchema, foldersSchema, type FollowEvent } from '@lithe-sieve/contract';
import type { FolderList, Folders } from '@lithe-sieve/contract';
import { requestJson } from './http';

const query = (path: string) => `?path=${encodeURIComponent(path)}`;

export const listFolders = (): Promise<Folders> => requestJson('/folders', foldersSchema);

export const addFolder = (path: string): Promise<Folders> =>
  requestJson('/folders', foldersSchema, { method: 'POST', body: { path } });

export const removeFolder = (path: string): Promise<Folders> =>
  requestJson(`/folders${query(path)}`, foldersSchema, { method: 'DELETE' });

export const lookInFolder = (path: string): Promise<FolderList> =>
  requestJson(`/folders/list${query(path)}`, folderListSchema);

/** Tells of each save of the files until `stop`; comes back by itself after the server was away. */
export function followFiles(paths: readonly string[], tell: (event: FollowEvent) => void): { stop(): void } {
  const source = new EventSource(`/api/folders/follow?${paths.map((p) => `path=${encodeURIComponent(p)}`).join('&')}`);
  source.onmessage = ({ data }: MessageEvent<string>) => tell(followEventSchema.parse(JSON.parse(data)));
  return { stop: () => source.close() };
}
