import { SieveError } from './errors.ts';

/** Said once, held everywhere: import, computation, hand-off. */
export const LIMITS = {
  /** Texels on one side. */
  side: 16384,
  /** Texels in all. */
  texels: 268_435_456,
  /** Bytes of one file brought in. */
  fileBytes: 512 * 1024 * 1024,
  /** Sources of one piece. */
  sources: 16,
  /** Characters of a piece's name, of a file's, and of what a change is called in the history. */
  pieceName: 80,
  fileName: 255,
  /** Characters of the name of a material in a mesh. */
  meshSlot: 256,
  outlinedParts: 256,
  label: 120,
  /** Patches of one change; what would be more is replaced as a whole. */
  patches: 400,
  /** Bytes of one change on its way to the server. */
  editBytes: 32 * 1024 * 1024,
} as const;

/** @throws {@link SieveError} `too-large` for a picture over {@link LIMITS}, `corrupt` for a side of 0. */
export function assertPictureSize(width: number, height: number): void {
  if (width < 1 || height < 1) {
    throw new SieveError('corrupt', `The file claims ${width} × ${height} texels.`, 'Save the picture again.');
  }
  if (width > LIMITS.side || height > LIMITS.side || width * height > LIMITS.texels) {
    throw new SieveError(
      'too-large',
      `The file claims ${width} × ${height} texels; at most ${LIMITS.side} on a side and 268 million in all are taken.`,
      'Save it smaller and bring it in again.',
    );
  }
}

/** Cut to a number of characters (UTF-16 units), with a sign that there was more. */
export function cutText(text: string, most: number): string {
  return text.length <= most ? text : `${text.slice(0, most - 1).replace(/[\uD800-\uDBFF]$/, '')}…`;
}
