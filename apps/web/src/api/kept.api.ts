import {
  profileListSchema,
  startListSchema,
  viewListSchema,
  type KeptProfile,
  type StandLook,
  type Start,
} from '@lithe-sieve/contract';
import { requestJson } from './http';

/** Something that the studio keeps by its name. */
export interface KeptThing<T> {
  id: string;
  name: string;
  held: T;
}
/** `damaged`: kept ones that cannot be read any more. */
export interface KeptList<T> {
  kept: KeptThing<T>[];
  damaged: number;
}

/** Each change answers with the list as it is then. */
export interface KeptApi<T> {
  list(): Promise<KeptList<T>>;
  keep(thing: KeptThing<T>): Promise<KeptList<T>>;
  rename(id: string, name: string): Promise<KeptList<T>>;
  remove(id: string): Promise<KeptList<T>>;
}

/** @param key - What holds it in a request. */
function keptApi<T>(
  path: string,
  key: string,
  ask: (path: string, init?: Parameters<typeof requestJson>[2]) => Promise<KeptList<T>>,
): KeptApi<T> {
  return {
    list: () => ask(path),
    keep: ({ id, name, held }) => ask(path, { method: 'POST', body: { id, name, [key]: held } }),
    rename: (id, name) => ask(`${path}/${id}/name`, { method: 'PUT', body: { name } }),
    remove: (id) => ask(`${path}/${id}`, { method: 'DELETE' }),
  };
}

export const VIEWS_API = keptApi<StandLook>('/views', 'look', async (path, init) => {
  const { views, damaged } = await requestJson(path, viewListSchema, init);
  return { kept: views.map(({ look, ...view }) => ({ ...view, held: look })), damaged };
});
export const PROFILES_API = keptApi<KeptProfile>('/profiles', 'profile', async (path, init) => {
  const { profiles, damaged } = await requestJson(path, profileListSchema, init);
  return { kept: profiles.map(({ profile, ...one }) => ({ ...one, held: profile })), damaged };
});
export const STARTS_API = keptApi<Start>('/starts', 'start', async (path, init) => {
  const { starts, damaged } = await requestJson(path, startListSchema, init);
  return { kept: starts.map(({ start, ...one }) => ({ ...one, held: start })), damaged };
});
