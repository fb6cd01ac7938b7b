import { cutText, LIMITS, recipeKey, type PieceDoc, type RecipePart } from '@lithe-sieve/core';
import { uploadSource } from '../../api/sources.api';
import { useEngine } from '../../stores/open-piece/open-piece';
import type { OtherPiece } from '../stock/other-pieces';

/** Takes copies of pieces to grow from: nothing is missing when a piece is deleted, nothing changes when it does. */
export function usePartFiles() {
  const engine = useEngine();

  async function upload(bytes: Uint8Array, name: string): Promise<string> {
    const file = new File([bytes as BlobPart], name);
    return (await uploadSource(file, () => undefined, new AbortController().signal)).sha256;
  }

  async function take({ id, doc, revision, byHand }: OtherPiece, variation?: number): Promise<RecipePart> {
    const grown = variation === undefined ? doc : withSeed(doc, variation);
    const { bytes, relief, maps, width, height, share } = await engine.engine().others.partFileOf(grown, byHand);
    return {
      sha256: await upload(bytes, 'part.png'),
      name: variation === undefined ? doc.name : `${cutText(doc.name, LIMITS.pieceName - 8)} ${variation}`,
      width,
      height,
      piece: id,
      revision,
      metres: doc.cardWidth * share,
      ...(relief ? { relief: await upload(relief, 'part, maps.png'), maps } : {}),
      ...(variation === undefined ? {} : { variation }),
    };
  }

  return take;
}

/** Whether copies of a piece can differ from each other. */
export const isGrown = ({ sources }: PieceDoc): boolean => sources.some((s) => s.recipe);

/** A piece whose recipes are grown from another seed, blades that are pinned apart. */
function withSeed(doc: PieceDoc, seed: number): PieceDoc {
  const sources = doc.sources.map((source) => {
    if (!source.recipe) return source;
    const recipe = { ...source.recipe, seed };
    return { ...source, recipe, sha256: recipeKey(recipe) };
  });
  return { ...doc, sources };
}

/** Parts with one taken again in the place of its older copy, or added. */
export function withTaken(parts: readonly RecipePart[], part: RecipePart): RecipePart[] {
  const at = parts.findIndex((p) => p.piece === part.piece && p.variation === part.variation);
  const { copies, weight, group } = parts[at] ?? {};
  const own = { ...part, ...(copies && { copies }), ...(weight && { weight }), ...(group && { group }) };
  return at < 0 ? [...parts, own] : parts.with(at, own);
}
