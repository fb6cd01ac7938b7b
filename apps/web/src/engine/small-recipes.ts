import { recipeKey, type Picture, type Recipe } from '@lithe-sieve/core';
import * as Comlink from 'comlink';
import type { GrowWorker } from '../workers/grow.worker';
import type { Thumb } from '../workers/types';
import { watch } from './watchdog';

let remote: Comlink.Remote<GrowWorker> | undefined;
/** Ends what waits for a worker that will not answer. */
let ended: Promise<never>;
const drawn = new Map<string, Promise<Thumb>>();
const MOST = 40;

/**
 * A small picture of a recipe; those that were drawn last are kept.
 *
 * @param pictureOf - Of its parts.
 */
export function smallRecipe(
  recipe: Recipe,
  side: number,
  pictureOf?: (sha256: string) => Promise<Picture>,
): Promise<Thumb> {
  const key = `${recipeKey(recipe)} ${side}`;
  const known = drawn.get(key);
  if (known) return known;
  const thumb = draw(start(), JSON.parse(JSON.stringify(recipe)) as Recipe, side, pictureOf);
  thumb.catch(() => drawn.delete(key));
  for (const old of [...drawn.keys()].slice(0, 1 - MOST)) drawn.delete(old);
  drawn.set(key, thumb);
  return thumb;
}

async function draw(
  worker: Comlink.Remote<GrowWorker>,
  recipe: Recipe,
  side: number,
  pictureOf?: (sha256: string) => Promise<Picture>,
): Promise<Thumb> {
  const parts = new Map<string, Picture>(); // their maps do not show
  if (pictureOf) for (const { sha256 } of recipe.parts ?? []) parts.set(sha256, await pictureOf(sha256));
  return Promise.race([worker.thumb(recipe, side, parts), ended]);
}

function start(): Comlink.Remote<GrowWorker> {
  if (remote) return remote;
  const worker = new Worker(new URL('../workers/grow.worker.ts', import.meta.url), { type: 'module' });
  let end: (error: Error) => void = () => undefined;
  ended = new Promise((_, reject) => (end = reject));
  ended.catch(() => undefined); // where nobody waits
  const { alive } = watch(worker, () => 0, lost);
  remote = Comlink.wrap<GrowWorker>(worker);
  void remote.attach(alive);
  return remote;

  function lost(error: Error): void {
    end(error);
    worker.terminate();
    remote = undefined; // the next one starts another
  }
}
