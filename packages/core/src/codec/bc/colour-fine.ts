import { packColour, writeColour, type ColourBlock } from './colour-write.ts';
import { bestEnds, bestIndices, chooseIndices, ends, fitEnds, keepTrial, refitted } from './colour.ts';

/** What was best with four colours, while three are tried. */
const otherEnds = new Int32Array(6);
const otherIndices = new Int32Array(16);
/** Moves of the two ends that are tried: each of their numbers alone, and the same number of both. */
const MOVES: readonly (readonly number[])[] = [0, 1, 2, 3, 4, 5].flatMap((c) => [
  [c, 1, c, 0],
  [c, -1, c, 0],
  ...(c < 3
    ? [
        [c, 1, c + 3, 1],
        [c, -1, c + 3, -1],
        [c, 1, c + 3, -1],
        [c, -1, c + 3, 1],
      ]
    : []),
]);
const MOST_REFITS = 6;
/** Three colours are looked into further where their first fit is at most so many times the error of four. */
const WORTH = 1.5;

/**
 * Encodes colours into eight bytes, where time counts less: the first fit is refitted as long as that is better, then its
 * ends are moved by single steps as long as that is. Without transparent texels the palette of three colours is tried too.
 *
 * @param either - Whether a decoder reads the palette of three colours (of BC1; those of BC3 have four).
 */
export function encodeColourFinely(
  block: ColourBlock,
  three: boolean,
  either: boolean,
  out: Uint8Array,
  at: number,
): void {
  if (block.count === 0) return writeColour(out, at, 0, 0xffff, -1);
  const error = search(block, three, Infinity);
  if (three || !either || error === 0) return packColour(block, three, bestEnds, bestIndices, out, at);
  otherEnds.set(bestEnds);
  otherIndices.set(bestIndices);
  if (search(block, true, WORTH * error) < error) packColour(block, true, bestEnds, bestIndices, out, at);
  else packColour(block, false, otherEnds, otherIndices, out, at);
}

/** @param limit - Of the first fit; beyond it nothing is sought. @returns the error of what is best then. */
function search(block: ColourBlock, three: boolean, limit: number): number {
  let error = fitEnds(block, three, false);
  if (error > limit) return error;
  for (let k = 0; k < MOST_REFITS && error > 0; k++) {
    const now = refitted(block, three);
    if (now >= error) break;
    keepTrial();
    error = now;
  }
  for (let better = true; better && error > 0;) {
    better = false;
    for (const [c, by, d, too] of MOVES) {
      ends.set(bestEnds);
      ends[c] += by;
      ends[d] += too;
      if (outside(c) || outside(d)) continue;
      const now = chooseIndices(block, three);
      if (now >= error) continue;
      keepTrial();
      error = now;
      better = true;
    }
  }
  return error;
}

function outside(c: number): boolean {
  return ends[c] < 0 || ends[c] > (c % 3 === 1 ? 63 : 31);
}
