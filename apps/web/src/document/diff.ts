import { LIMITS, type PieceDoc } from '@lithe-sieve/core';
import type { WirePatch } from '@lithe-sieve/contract';
import { enablePatches, produceWithPatches } from 'immer';

enablePatches();

/**
 * A small change from one document to another, and its exact reverse. Empty where they are equal. Where it would be more
 * patches than a change may have, what differs at the top of the document is replaced as a whole.
 */
export function diffDocs(from: PieceDoc, to: PieceDoc): { patches: WirePatch[]; inverse: WirePatch[] } {
  const [, patches, inverse] = produceWithPatches(from, (draft) => {
    merge(draft, to as unknown as Node);
  });
  if (patches.length <= LIMITS.patches && inverse.length <= LIMITS.patches) return { patches, inverse };
  const keys = Object.keys(to) as (keyof PieceDoc)[];
  const whole = (doc: PieceDoc) =>
    keys
      .filter((key) => from[key] !== to[key])
      .map((key) => ({ op: 'replace' as const, path: [key], value: doc[key] }));
  return { patches: whole(to), inverse: whole(from) };
}

type Node = Record<string, unknown>;

function merge(draft: Node, to: Node): void {
  for (const key of Object.keys(to)) {
    const a = draft[key];
    const b = to[key];
    if (a === b) continue;
    if (b === undefined)
      delete draft[key]; // JSON holds no such value: a patch would lose it on its way
    else if (isBeginning(a, b) || isBeginning(b, a)) lengthen(a as string[], b as string[]);
    else if (sameShape(a, b)) merge(a as Node, b as Node);
    else draft[key] = b;
  }
  if (!Array.isArray(draft)) for (const key of Object.keys(draft)) if (!(key in to)) delete draft[key];
}

/** Up to so many entries more or less are patched one by one; beyond that the list is replaced. */
const FEW = 16;

/** Whether a list of plain values begins another one that goes on: a stroke more, or one less. */
function isBeginning(a: unknown, b: unknown): boolean {
  if (!Array.isArray(a) || !Array.isArray(b) || a.length >= b.length || b.length - a.length > FEW) return false;
  return a.every((value, i) => typeof value === 'string' && value === b[i]);
}

function lengthen(draft: string[], to: readonly string[]): void {
  if (draft.length > to.length) draft.length = to.length;
  else draft.push(...to.slice(draft.length));
}

/** Both records of one kind, or both lists of the same entries in the same order: descend instead of replacing. */
function sameShape(a: unknown, b: unknown): boolean {
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  if (!Array.isArray(a) || !Array.isArray(b))
    return (a as Node)['id'] === (b as Node)['id'] && (a as Node)['kind'] === (b as Node)['kind'];
  return a.length === b.length && a.every((entry, i) => typeof entry !== 'object' || sameShape(entry, b[i]));
}
