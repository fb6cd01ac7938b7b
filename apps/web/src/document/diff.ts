import type { PieceDoc } from '@lithe-sieve/core';
import type { WirePatch } from '@lithe-sieve/contract';
import { enablePatches, produceWithPatches } from 'immer';

enablePatches();

/** The smallest change from one document to another, and its exact reverse. Empty where they are equal. */
export function diffDocs(from: PieceDoc, to: PieceDoc): { patches: WirePatch[]; inverse: WirePatch[] } {
  const [, patches, inverse] = produceWithPatches(from, (draft) => {
    merge(draft, to as unknown as Node);
  });
  return { patches: patches, inverse: inverse };
}

type Node = Record<string, unknown>;

function merge(draft: Node, to: Node): void {
  for (const key of Object.keys(to)) {
    const a = draft[key];
    const b = to[key];
    if (a === b) continue;
    if (sameShape(a, b)) merge(a as Node, b as Node);
    else draft[key] = b;
  }
}

/** Both records of one kind, or both lists of the same entries in the same order: descend instead of replacing. */
function sameShape(a: unknown, b: unknown): boolean {
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  if (!Array.isArray(a) || !Array.isArray(b))
    return (a as Node)['id'] === (b as Node)['id'] && (a as Node)['kind'] === (b as Node)['kind'];
  return a.length === b.length && a.every((entry, i) => typeof entry !== 'object' || sameShape(entry, b[i]));
}
