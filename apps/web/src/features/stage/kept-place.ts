import { keptBox, thresholdByte, type Box } from '@lithe-sieve/core';
import { useEngine, usePiece } from '../../stores/open-piece/open-piece';

/** Side of a level that is small enough to be looked through at once. */
const SMALL_ENOUGH = 1024;

/** Where what is kept lies, in texels of the full size and a texel of that level more; null where nothing is. */
export function useKeptPlace(): () => Box | null {
  const engine = useEngine();
  const piece = usePiece();
  return () => {
    const { mask, size } = engine;
    const { material } = piece;
    const level = mask?.levels.find((l) => Math.max(l.width, l.height) <= SMALL_ENOUGH);
    const box = level && material && keptBox(level, thresholdByte(material.cutoff, material.opacity));
    if (!box || !size) return null;
    const [across, down] = [size.width / level.width, size.height / level.height];
    return {
      x0: (box.x0 - 1) * across,
      y0: (box.y0 - 1) * down,
      x1: (box.x1 + 1) * across,
      y1: (box.y1 + 1) * down,
    };
  };
}
