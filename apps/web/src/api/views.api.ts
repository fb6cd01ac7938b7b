import { viewListSchema, type NamedView, type ViewList } from '@lithe-sieve/contract';
import { requestJson } from './http';

const views = (path: string, init?: Parameters<typeof requestJson>[2]): Promise<ViewList> =>
  requestJson(`/views${path}`, viewListSchema, init);

export const listViews = (): Promise<ViewList> => views('');
export const keepView = (view: NamedView): Promise<ViewList> => views('', { method: 'POST', body: view });
export const renameView = (id: string, name: string): Promise<ViewList> =>
  views(`/${id}/name`, { method: 'PUT', body: { name } });
export const deleteView = (id: string): Promise<ViewList> => views(`/${id}`, { method: 'DELETE' });
