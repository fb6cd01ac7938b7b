import { isHandStep, partFiles, type PieceDoc, type Stroke } from '@lithe-sieve/core';
import type { HandOffInput, HandOffSource } from './hand-off.ts';
import type { TipFile } from './tip-pictures.ts';

/** Where pieces are kept: a studio's database, or a folder. */
export interface PieceStore {
  /** The newest form of a piece. @throws an error with code and remedy where it cannot be read. */
  docOf(id: string): Promise<PieceDoc>;
  /** What was done by hand in a document; one that cannot be read is omitted, and the step that names it fails. */
  strokesOf(doc: PieceDoc): Promise<Stroke[]>;
  /** @param called - Its name, for an error. @throws an error with code and remedy where it is not there. */
  fileOf(sha256: string, called: string): Promise<Uint8Array>;
}

/** A document with the bytes of every file that it names. */
export async function gatherHandOff(store: Omit<PieceStore, 'docOf'>, doc: PieceDoc): Promise<HandOffInput> {
  const sources: HandOffSource[] = [];
  for (const { id, sha256, fileName, place, recipe } of doc.sources) {
    if (recipe) sources.push({ id, sha256, place, recipe });
    else sources.push({ id, sha256, place, bytes: await store.fileOf(sha256, fileName) });
  }
  const strokes = await store.strokesOf(doc);
  const tips: TipFile[] = [];
  for (const [sha256, called] of filesOf(doc, strokes))
    tips.push({ sha256, bytes: await store.fileOf(sha256, called) });
  const mesh = doc.mesh && (await store.fileOf(doc.mesh.sha256, doc.mesh.fileName));
  return { doc, sources, strokes, tips, mesh };
}

/** Files that brush tips and recipes of a document are made of, each once, and what each is called. */
export function filesOf(doc: PieceDoc, strokes: readonly Stroke[]): Map<string, string> {
  const tips = tipsOf(strokes).map((sha256): [string, string] => [sha256, 'of a brush tip']);
  return new Map([
    ...partsOf(doc).map(({ sha256, name }): [string, string] => [sha256, `of the part ${name}`]),
    ...tips,
  ]);
}

/** What its recipes are made of. */
export const partsOf = (doc: PieceDoc) => doc.sources.flatMap((s) => (s.recipe ? partFiles(s.recipe) : []));

/** Files of the tips that strokes were drawn with. */
export function tipsOf(strokes: readonly Stroke[]): string[] {
  const files = strokes.flatMap((s) => (s.kind === 'brush' && s.brush.tip === 'piece' ? [s.brush.picture] : []));
  return [...new Set(files)].filter(Boolean);
}

export function strokeIdsOf(doc: PieceDoc): string[] {
  return doc.run.flatMap((step) => (isHandStep(step) ? step.params.strokes : []));
}
