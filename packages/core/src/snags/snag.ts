import type { MeshFacts } from '../card/mesh/mesh-facts.ts';
import type { PieceDoc } from '../piece/piece-doc.ts';
import type { PlainError } from '../errors.ts';
import type { SourceFacts } from '../piece/source-facts.ts';
import type { Histogram } from '../sieve/histogram.ts';
import type { Places } from '../sieve/halo.ts';
import type { FieldLoss } from '../sieve/distance-field.ts';
import type { Doubt } from '../steps/step.ts';
import type { SurfaceFacts } from './surface-facts.ts';

/** What a check may look at. Counts are of level 0 of the result. */
export interface SnagContext {
  doc: PieceDoc;
  /** By sha256. */
  facts: ReadonlyMap<string, SourceFacts>;
  counts: Histogram;
  border: Histogram;
  middle: Histogram;
  /** Counts of every mip level as the target will have it, level 0 first; none where they are not known yet. */
  levels: readonly { width: number; height: number; counts: Histogram }[];
  /** Texels of the texture that is handed off, as its fit leaves it; left out: not known. */
  size?: { width: number; height: number };
  /** How much of the card's width the fitted picture takes up; 1 without. */
  cardShare?: number;
  /** Facts of the maps; null where they are not known yet. */
  surface?: SurfaceFacts | null;
  /** Errors of steps that could not be done. */
  failures?: readonly { stepId: string; error: PlainError }[];
  /** Of the mesh that the piece lies on; null where it is not known, or there is none. */
  mesh?: MeshFacts | null;
  /** Kept texels that the card's outline leaves out. */
  keptOutside?: number;
  /** What becomes of the clip as the distances that are handed off; left out: not known, or it is none. */
  field?: FieldLoss | null;
  /** What steps found doubtful. */
  doubts?: readonly { stepId: string; doubt: Doubt }[];
}

/** Something that would go wrong later, in plain words. */
export interface Snag {
  id: string;
  text: string;
  /** Texels at fault, to be marked. */
  where?: Places;
  remedy?: Remedy;
}

/** Its fix at one click: a label and the piece as it would be. */
export interface Remedy {
  label: string;
  apply(doc: PieceDoc, makeId: () => string): PieceDoc;
}

/** One check; null where all is well. */
export type SnagCheck = (context: SnagContext) => Snag | null;
