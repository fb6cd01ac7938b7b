import { allocateHeap, type Allocate, type Mask } from '../raster/raster.ts';
import { coverageAt, histogram } from './histogram.ts';
import { filteredMaskMips } from './filtered-mips.ts';
import { HOLD_DEFAULTS, HOLD_VERSION, holdAtDistance, type Held } from './hold/hold.ts';
import { diffusedAlpha } from './keep/diffused.ts';
import { localCoverage } from './keep/local.ts';
import { scaledToCoverage } from './keep/scaled.ts';
import { maskMips } from './mips.ts';
import { withOwnMasks, type PaintedLevel, type ReplacedLevel, type SourceOf } from './own-levels.ts';
import type { MipFilter, Wrap } from './mip-filters.ts';
import { thresholdByte } from '../math/threshold.ts';

/** Who makes the mip levels: the target averages what it gets, or they travel in the file. */
export const LEVEL_MAKERS = ['target', 'file'] as const;
/** How levels that travel in the file keep coverage. */
export const KEEPS = ['none', 'scale', 'diffused', 'local'] as const;
export type Keep = (typeof KEEPS)[number];

/** How the mip levels of a piece come about, and from where they are looked at. */
export interface LevelSettings {
  madeBy: (typeof LEVEL_MAKERS)[number];
  /** Filter of levels in the file. */
  filter: MipFilter;
  keep: Keep;
  /** Levels in the file that are not made from level 0, or not only. */
  replaced: ReplacedLevel[];
  painted: PaintedLevel[];
  wrapAcross: Wrap;
  wrapDown: Wrap;
  /** Where the target makes the levels: what it averages with, and whether alpha is reshaped for it. */
  averages: MipFilter;
  hold: boolean;
  /** Which version of it made the piece's texels; see {@link HOLD_VERSION}. */
  holdVersion: number;
  /** 0–1, and the longer side in texels down to which levels are held. */
  strength: number;
  downTo: number;
  /** Field of view of the camera, top to bottom, in degrees, and pixels of its picture from top to bottom. */
  fieldOfView: number;
  screenHeight: number;
}

export const LEVEL_DEFAULTS: LevelSettings = {
  madeBy: 'target',
  filter: 'box',
  keep: 'local',
  replaced: [],
  painted: [],
  wrapAcross: 'clamp',
  wrapDown: 'clamp',
  averages: 'box',
  hold: false,
  holdVersion: HOLD_VERSION,
  strength: HOLD_DEFAULTS.strength,
  downTo: HOLD_DEFAULTS.downTo,
  fieldOfView: 60,
  screenHeight: 1080,
};

/** What turns hold on: by the newest version, also where a piece was made before there was one. */
export const HELD_NEWLY = { hold: true, holdVersion: HOLD_VERSION } as const;

export const LEVEL_RANGES = {
  strength: { min: 0, max: 1 },
  downTo: { min: 1, max: 1024 },
  fieldOfView: { min: 5, max: 150 },
  screenHeight: { min: 120, max: 8640 },
} as const;

/** What of a material decides on the clip. */
export interface Clip {
  mode: 'opaque' | 'mask' | 'blend';
  cutoff: number;
  opacity: number;
}

/** Whether alpha is reshaped before it is handed off. */
export function holds({ mode }: Clip, { madeBy, hold }: LevelSettings): boolean {
  return mode === 'mask' && madeBy === 'target' && hold;
}

/** Whether levels other than plain averages of 2 × 2 texels of the mask are shown and handed off. */
export function changesLevels(clip: Clip, settings: LevelSettings): boolean {
  return (
    holds(clip, settings) ||
    (settings.madeBy === 'target' && settings.averages !== 'box') ||
    (settings.madeBy === 'file' && (settings.filter !== 'box' || settings.keep !== 'none' || hasOwn(settings)))
  );
}

const hasOwn = ({ replaced, painted }: LevelSettings) => replaced.length > 0 || painted.length > 0;

export interface MadeLevels {
  /** Level 0 first. */
  levels: Mask[];
  /** What came of holding, where that was done. */
  held: Held | null;
}

export interface MakeLevelsHost {
  allocate?: Allocate;
  /** Sources that replace levels; without it none is replaced. */
  sourceOf?: SourceOf;
  /** Cancels by throwing. */
  checkpoint?: (share: number) => void;
}

/** What a target makes of the mask that it gets. */
export function targetLevels(mask: Mask, settings: LevelSettings, allocate: Allocate = allocateHeap): Mask[] {
  return [mask, ...averaged(mask, settings.averages, settings, allocate)];
}

function averaged(mask: Mask, filter: MipFilter, { wrapAcross, wrapDown }: LevelSettings, allocate: Allocate): Mask[] {
  return filter === 'box'
    ? maskMips(mask, allocate)
    : filteredMaskMips(mask, { filter, wrapAcross, wrapDown, allocate });
}

/** The mask that is handed off, where the clip asks for it to be held. */
export function heldFor(mask: Mask, clip: Clip, settings: LevelSettings, host: MakeLevelsHost = {}): Held {
  const { strength, downTo, averages, holdVersion: version } = settings;
  const { cutoff, opacity } = clip;
  const { allocate, checkpoint } = host;
  return holdAtDistance(mask, {
    cutoff,
    opacity,
    strength,
    downTo,
    filter: averages,
    version,
    ...(allocate ? { allocate } : {}),
    ...(checkpoint ? { checkpoint } : {}),
  });
}

/** The mip levels of a mask as a target will have them. @param mask - Level 0, as the run makes it. */
export function makeLevels(mask: Mask, clip: Clip, settings: LevelSettings, host: MakeLevelsHost = {}): MadeLevels {
  const { allocate = allocateHeap, checkpoint } = host;
  if (holds(clip, settings)) {
    const held = heldFor(mask, clip, settings, host);
    return { levels: targetLevels(held.mask, settings, allocate), held };
  }
  if (settings.madeBy === 'target') return { levels: targetLevels(mask, settings, allocate), held: null };
  const plain = averaged(mask, settings.filter, settings, allocate);
  checkpoint?.(0.5);
  const made = [mask, ...kept(mask, plain, clip, settings.keep)];
  return { levels: hasOwn(settings) ? withOwnMasks(made, settings, host.sourceOf ?? none) : made, held: null };
}

const none = () => null;

function kept(mask: Mask, levels: Mask[], { mode, cutoff, opacity }: Clip, keep: Keep): Mask[] {
  const threshold = thresholdByte(cutoff, opacity);
  if (mode !== 'mask' || threshold < 1 || threshold > 255) return levels; // nothing is clipped, or nothing is left to choose
  switch (keep) {
    case 'none':
      return levels;
    case 'scale': {
      const coverage = coverageAt(histogram(mask), threshold);
      return levels.map((level) => scaledToCoverage(level, threshold, coverage));
    }
    case 'diffused':
      return levels.map((level) => diffusedAlpha(level));
    case 'local':
      return localCoverage(mask, levels, threshold);
  }
}
