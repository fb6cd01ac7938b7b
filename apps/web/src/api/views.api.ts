import { viewListSchema, type NamedView } from '@lithe-sieve/contract';
import { requestJson } from './http';

const views = async (path: string, init?: Parameters<typeof requestJson>[2]): Promise<NamedView[]> =>
  (await requestJson(`/views${path}`, viewListSchema, init)).views;

export const listViews = (): Promise<NamedView[]> => views('');
export const keepView = (view: NamedView): Promise<NamedView[]> => views('', { method: 'POST', body: view });
export const renameView = (id: string, name: string): Promise<NamedView[]> =>
  views(`/${id}/name`, { method: 'PUT', body: { name } });
export const deleteView = (id: string): Promise<NamedView[]> => views(`/${id}`, { method: 'DELETE' });
