import { backUnseen, facesFight, meshUnit, mirroredUvs, outlineCuts } from './card.ts';
import { failedStep } from './failed-step.ts';
import { farLoss } from './far-loss.ts';
import { fieldRounds } from './field-rounds.ts';
import { heldNotHard } from './held-not-hard.ts';
import { clampedBorder, colourIsNormals, flatRoughness, halo, heightBands, stepDoubts, taggedData } from './maps.ts';
import { allOrNothing, inverted, noMask, opaqueMode } from './mask.ts';
import { bladesCutOff, partsNotSharp } from './recipes.ts';
import { noRoomForLevels } from './no-room-for-levels.ts';
import { shapesDiffer, sizesDiffer } from './sizes.ts';
import { targetLeftOut, targetMode, targetOpacity, targetSides, targetSize } from './target.ts';
import type { Snag, SnagCheck, SnagContext } from './snag.ts';

/** Every check, in the order in which they are shown. A new one is one line here. */
const CHECKS: readonly SnagCheck[] = [
  noMask,
  failedStep,
  sizesDiffer,
  shapesDiffer,
  inverted,
  opaqueMode,
  allOrNothing,
  farLoss,
  heldNotHard,
  noRoomForLevels,
  halo,
  colourIsNormals,
  stepDoubts,
  heightBands,
  flatRoughness,
  taggedData,
  clampedBorder,
  partsNotSharp,
  bladesCutOff,
  meshUnit,
  mirroredUvs,
  outlineCuts,
  facesFight,
  backUnseen,
  targetMode,
  targetSides,
  targetSize,
  targetOpacity,
  targetLeftOut,
  fieldRounds,
];

export function findSnags(context: SnagContext): Snag[] {
  return CHECKS.map((check) => check(context)).filter((snag) => snag !== null);
}
