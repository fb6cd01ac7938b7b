import { isHandStep, stepKind, type PieceDoc, type Recipe } from '@lithe-sieve/core';
import type { RunRequest } from '../workers/types';

/** What a worker is asked for: plain, since proxies do not cross to it. */
export function requestOf(doc: PieceDoc, turn: number): RunRequest {
  return {
    turn,
    cardWidth: doc.cardWidth,
    run: JSON.parse(JSON.stringify(doc.run)) as RunRequest['run'],
    sources: doc.sources.map(({ id, sha256, place, recipe }) => ({
      id,
      sha256,
      ...(place ? { place: { ...place } } : {}),
      ...(recipe ? { recipe: JSON.parse(JSON.stringify(recipe)) as Recipe } : {}),
    })),
  };
}

/** Names what the result of a document depends on. */
export function keyOf(doc: PieceDoc): string {
  const measures = doc.run.some((s) => s.on && stepKind(s.kind).inMillimetres);
  return JSON.stringify([doc.run, doc.sources, measures ? doc.cardWidth : 0]);
}

/** What a change by hand leaves as it is. */
export function keyWithoutStrokes({ run, sources }: PieceDoc): string {
  return JSON.stringify([
    run.map((s) => (isHandStep(s) ? { ...s, params: { ...s.params, strokes: [] } } : s)),
    sources,
  ]);
}
