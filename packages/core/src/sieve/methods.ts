import type { Mask } from '../raster/raster.ts';
import { HELD_NEWLY, KEEPS, makeLevels, type Clip, type LevelSettings, type MakeLevelsHost } from './levels.ts';
import { levelFigures } from './mip-table.ts';
import { thresholdByte } from '../math/threshold.ts';

/** A way to come by mip levels, and what it comes to on one mask. */
export interface MethodFigures {
  /** What of the settings makes it. */
  settings: Partial<LevelSettings>;
  /** Largest change of coverage on any level, 0–1. */
  drift: number;
  /** Means over the levels; see `LevelFigures`. */
  localError: number;
  sampledError: number;
  silhouetteError: number;
}

/** Every way there is: averages as they are, averages of a held mask, and levels of our own by the filter that is set. */
export const METHODS: readonly Partial<LevelSettings>[] = [
  { madeBy: 'target', hold: false },
  { madeBy: 'target', ...HELD_NEWLY },
  ...KEEPS.map((keep) => ({ madeBy: 'file' as const, keep })),
];

/** Levels of fewer texels on their longer side are not judged. */
const SMALLEST = 32;

/** @param clip - In mode mask. Null where a mask has no level that is judged. */
export function methodFigures(
  mask: Mask,
  clip: Clip,
  settings: LevelSettings,
  method: Partial<LevelSettings>,
  host: MakeLevelsHost = {},
): MethodFigures | null {
  const { levels } = makeLevels(mask, clip, { ...settings, ...method }, host);
  const goOn = () => host.checkpoint?.(1);
  const judged = levelFigures(mask, levels.slice(1), thresholdByte(clip.cutoff, clip.opacity), goOn).filter(
    ({ width, height }) => Math.max(width, height) >= SMALLEST,
  );
  if (judged.length === 0) return null;
  const mean = (of: 'localError' | 'sampledError' | 'silhouetteError') =>
    judged.reduce((sum, f) => sum + f[of], 0) / judged.length;
  return {
    settings: method,
    drift: Math.max(...judged.map((f) => Math.abs(f.drift))),
    localError: mean('localError'),
    sampledError: mean('sampledError'),
    silhouetteError: mean('silhouetteError'),
  };
}
