import { bleed, type BleedParams } from './bleed.ts';
import { clearHoles, type ClearHolesParams } from './clear-holes.ts';
import { combine, type CombineParams } from './combine.ts';
import { cutBelow, type CutBelowParams } from './cut-below.ts';
import { feather, type FeatherParams } from './feather.ts';
import { fineFringe, type FineFringeParams } from './fine-fringe.ts';
import { fromBackdrop, type FromBackdropParams } from './from-backdrop.ts';
import { fromChannel, type FromChannelParams } from './from-channel.ts';
import { fromColour, type FromColourParams } from './from-colour.ts';
import { fromPiece, type FromPieceParams } from './from-piece.ts';
import { fromStrokes, type FromStrokesParams } from './from-strokes.ts';
import { fromTouch, type FromTouchParams } from './from-touch.ts';
import { fromTwoBackdrops, type FromTwoBackdropsParams } from './from-two-backdrops.ts';
import { grow, type GrowParams } from './grow.ts';
import { harden, type HardenParams } from './harden.ts';
import { invert, type InvertParams } from './invert.ts';
import { levels, type LevelsParams } from './levels.ts';
import { opacityFactor, type OpacityFactorParams } from './opacity-factor.ts';
import { perforate, type PerforateParams } from './perforate.ts';
import { closePinholes, dropStrays, type SmallRegionsParams } from './small-regions.ts';
import { smoothEdge, type SmoothEdgeParams } from './smooth-edge.ts';
import type { StepKind } from './step.ts';
import { strokes, type StrokesParams } from './strokes.ts';
import { unmix, type UnmixParams } from './unmix.ts';

/** Parameters of every kind of step. A new kind is one line here and one below. */
export interface StepParams {
  'from-channel': FromChannelParams;
  'from-colour': FromColourParams;
  'from-touch': FromTouchParams;
  'from-backdrop': FromBackdropParams;
  'from-two-backdrops': FromTwoBackdropsParams;
  'from-strokes': FromStrokesParams;
  'from-piece': FromPieceParams;
  levels: LevelsParams;
  invert: InvertParams;
  grow: GrowParams;
  feather: FeatherParams;
  'smooth-edge': SmoothEdgeParams;
  'harden-edge': HardenParams;
  'drop-strays': SmallRegionsParams;
  'close-pinholes': SmallRegionsParams;
  'clear-holes': ClearHolesParams;
  'fine-fringe': FineFringeParams;
  'cut-below': CutBelowParams;
  strokes: StrokesParams;
  combine: CombineParams;
  'opacity-factor': OpacityFactorParams;
  perforate: PerforateParams;
  unmix: UnmixParams;
  bleed: BleedParams;
}

export type StepKindName = keyof StepParams;

export const STEP_KINDS: { readonly [K in StepKindName]: StepKind<StepParams[K]> } = {
  'from-channel': fromChannel,
  'from-colour': fromColour,
  'from-touch': fromTouch,
  'from-backdrop': fromBackdrop,
  'from-two-backdrops': fromTwoBackdrops,
  'from-strokes': fromStrokes,
  'from-piece': fromPiece,
  levels,
  invert,
  grow,
  feather,
  'smooth-edge': smoothEdge,
  'harden-edge': harden,
  'drop-strays': dropStrays,
  'close-pinholes': closePinholes,
  'clear-holes': clearHoles,
  'fine-fringe': fineFringe,
  'cut-below': cutBelow,
  strokes,
  combine,
  'opacity-factor': opacityFactor,
  perforate,
  unmix,
  bleed,
};

export const STEP_KIND_NAMES = Object.keys(STEP_KINDS) as StepKindName[];

/** The kind without its parameter type, for code that handles any step. */
export function stepKind(name: StepKindName): StepKind<StepParams[StepKindName]> {
  return STEP_KINDS[name];
}
