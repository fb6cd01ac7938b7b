import { folderListSchema, foldersSchema } from '@lithe-sieve/contract';
import type { FolderList, Followable, Folders } from '@lithe-sieve/contract';
import { requestJson } from './http';

const query = (path: string) => `?path=${encodeURIComponent(path)}`;

export const listFolders = (): Promise<Folders> => requestJson('/folders', foldersSchema);

export const addFolder = (path: string): Promise<Folders> =>
  requestJson('/folders', foldersSchema, { method: 'POST', body: { path } });

export const removeFolder = (path: string): Promise<Folders> =>
  requestJson(`/folders${query(path)}`, foldersSchema, { method: 'DELETE' });

export const lookInFolder = (path: string, of: Followable): Promise<FolderList> =>
  requestJson(`/folders/list${query(path)}&of=${of}`, folderListSchema);
