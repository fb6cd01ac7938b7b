import { bleed, type BleedParams } from './bleed.ts';
import { clearHoles, type ClearHolesParams } from './clear-holes.ts';
import { combine, type CombineParams } from './combine.ts';
import { cutBelow, type CutBelowParams } from './cut-below.ts';
import { feather, type FeatherParams } from './feather.ts';
import { fineFringe, type FineFringeParams } from './fine-fringe.ts';
import { fromBackdrop, type FromBackdropParams } from './from-backdrop.ts';
import { fromChannel, type FromChannelParams } from './from-channel.ts';
import { fromColour, type FromColourParams } from './from-colour.ts';
import { cutByPiece, type CutByPieceParams } from './cut-by-piece.ts';
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
import { swing, type SwingParams } from './swing.ts';
import { colourLevels, type ColourLevelsParams } from './colour-levels.ts';
import { match, type MatchParams } from './match.ts';
import { flattenLight, type FlattenLightParams } from './flatten-light.ts';
import { heightFromPicture, type HeightFromPictureParams } from './maps/height-from-picture.ts';
import { heightFromEdge, type HeightFromEdgeParams } from './maps/height-from-edge.ts';
import { heightFromVeins, type HeightFromVeinsParams } from './maps/height-from-veins.ts';
import { heightByHand, type HeightByHandParams } from './maps/height-by-hand.ts';
import { normalFromHeight, type NormalFromHeightParams } from './maps/normal-from-height.ts';
import { normalFromPicture, type NormalFromPictureParams } from './maps/normal-from-picture.ts';
import { normalFromLights, type NormalFromLightsParams } from './maps/normal-from-lights.ts';
import { flipNormals, type FlipNormalsParams } from './maps/flip-normals.ts';
import { ramp, rampByHeight, type RampLook, type RampParams } from './ramp.ts';
import { backColour, type BackColourParams } from './maps/back-colour.ts';
import { emission, otherColour, throughColour, type ColourMapParams } from './maps/colour-map.ts';
import { tintId, type TintIdParams } from './maps/tint-id.ts';
import { bleedMaps, type BleedMapsParams } from './maps/bleed-maps.ts';
import { valueMap, type ValueMapName } from './maps/value-map.ts';
import type { ValueMapParams } from './maps/value-recipes.ts';
import { trim, type TrimParams } from './fit/trim.ts';
import { turnToFit, type TurnToFitParams } from './fit/turn-to-fit.ts';
import { place, type PlaceParams } from './fit/place.ts';
import { resizeAll, type ResizeParams } from './fit/resize.ts';
import { pad, type PadParams } from './fit/pad.ts';
import { makeTileable, type MakeTileableParams } from './fit/make-tileable.ts';

/** Parameters of every kind of step. A new kind is one line here and one below. */
export interface StepParams extends Record<ValueMapName, ValueMapParams> {
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
  'cut-by-piece': CutByPieceParams;
  unmix: UnmixParams;
  bleed: BleedParams;
  ramp: RampParams;
  swing: SwingParams;
  'colour-levels': ColourLevelsParams;
  match: MatchParams;
  'flatten-light': FlattenLightParams;
  'height-from-picture': HeightFromPictureParams;
  'height-from-edge': HeightFromEdgeParams;
  'height-from-veins': HeightFromVeinsParams;
  'height-by-hand': HeightByHandParams;
  'normal-from-height': NormalFromHeightParams;
  'normal-from-picture': NormalFromPictureParams;
  'normal-from-lights': NormalFromLightsParams;
  'flip-normals': FlipNormalsParams;
  'tint-id': TintIdParams;
  'back-colour': BackColourParams;
  'other-colour': ColourMapParams;
  'through-colour': ColourMapParams;
  emission: ColourMapParams;
  'ramp-by-height': RampLook;
  'bleed-maps': BleedMapsParams;
  trim: TrimParams;
  'turn-to-fit': TurnToFitParams;
  place: PlaceParams;
  resize: ResizeParams;
  pad: PadParams;
  'make-tileable': MakeTileableParams;
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
  'cut-by-piece': cutByPiece,
  unmix,
  bleed,
  ramp,
  swing,
  'colour-levels': colourLevels,
  match,
  'flatten-light': flattenLight,
  'height-from-picture': heightFromPicture,
  'height-from-edge': heightFromEdge,
  'height-from-veins': heightFromVeins,
  'height-by-hand': heightByHand,
  'normal-from-height': normalFromHeight,
  'normal-from-picture': normalFromPicture,
  'normal-from-lights': normalFromLights,
  'flip-normals': flipNormals,
  roughness: valueMap('roughness'),
  specular: valueMap('specular'),
  metalness: valueMap('metalness'),
  occlusion: valueMap('occlusion'),
  translucency: valueMap('translucency'),
  thickness: valueMap('thickness'),
  dirt: valueMap('dirt'),
  'tint-id': tintId,
  'back-colour': backColour,
  'other-colour': otherColour,
  'through-colour': throughColour,
  emission,
  'ramp-by-height': rampByHeight,
  'bleed-maps': bleedMaps,
  trim,
  'turn-to-fit': turnToFit,
  place,
  resize: resizeAll,
  pad,
  'make-tileable': makeTileable,
};

export const STEP_KIND_NAMES = Object.keys(STEP_KINDS) as StepKindName[];

/** The kind without its parameter type, for code that handles any step. */
export function stepKind(name: StepKindName): StepKind<StepParams[StepKindName]> {
  return STEP_KINDS[name];
}
