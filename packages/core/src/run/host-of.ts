import type { PieceDoc } from '../piece/piece-doc.ts';
import type { Stroke } from '../strokes/stroke.ts';
import type { RunHost, RunSource } from './run.ts';

/** What a run reads beside its document. */
export interface RunFiles {
  /** In the order of the document. */
  sources: readonly RunSource[];
  strokes: readonly Stroke[] | ReadonlyMap<string, Stroke>;
  /** Pictures of brush tips, by the SHA-256 of their files. */
  tip: NonNullable<RunHost['tip']>;
}

/** How the run of a document is evaluated, wherever that is. @param more - What the place of it adds. */
export function runHostOf(
  { cardWidth }: Partial<Pick<PieceDoc, 'cardWidth'>>,
  { sources, strokes, tip }: RunFiles,
  more: Omit<RunHost, 'sources' | 'strokes' | 'tip' | 'cardWidth'> = {},
): RunHost {
  return {
    ...more,
    sources,
    tip,
    strokes: strokes instanceof Map ? strokes : new Map((strokes as readonly Stroke[]).map((s) => [s.id, s])),
    ...(cardWidth === undefined ? {} : { cardWidth }),
  };
}
