import type { CardOf } from '../card/kinds.ts';
import { stepKind } from '../steps/registry.ts';
import type { PieceDoc } from './piece-doc.ts';

/** Whether a piece is an atlas as it lies in its texture: a fit lays it otherwise. */
export function hasRegions({ sources, run }: Pick<PieceDoc, 'sources' | 'run'>): boolean {
  const fitted = run.some((s) => s.on && stepKind(s.kind).stretch === 'fit');
  return sources[0]?.recipe?.kind === 'atlas' && !fitted;
}

/** What of a piece gives its card its shape. */
export function cardOf(doc: PieceDoc): CardOf {
  const recipe = doc.sources[0]?.recipe;
  const atlas = recipe?.kind === 'atlas' && hasRegions(doc) ? recipe : undefined;
  const { cardWidth, set, form, sides, normals } = doc;
  return { cardWidth, set, form, sides, normals, atlas };
}
