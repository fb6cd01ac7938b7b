export * from './errors.ts';
export * from './limits.ts';
export * from './raster/raster.ts';
export * from './raster/maps.ts';
export * from './raster/run-state.ts';
export * from './raster/change.ts';
export type { Work } from './raster/work.ts';
export type { NumberKeys, Range } from './math/range.ts';
export { toRgba8 } from './raster/to-rgba8.ts';
export { fitSize, resize } from './raster/resize.ts';
export { halvingsTo, shrink } from './raster/shrink.ts';
export { RowSampler, sampleTexels } from './raster/sample.ts';
export { fingerprint } from './raster/fingerprint.ts';
export * from './colour/srgb.ts';
export * from './colour/luminance.ts';
export { oklabDistance, oklabFromBytes, oklabFromXyz, type Oklab } from './colour/oklab.ts';
export { ciede2000, labFromBytes, type Lab } from './colour/ciede2000.ts';
export { cubeRoot, fifthRoot, power } from './math/roots.ts';
export { digest } from './math/digest.ts';
export type { CodecPlatform, Deflate, HostPicture } from './codec/platform.ts';
export { FORMAT_NAMES, type DecodedPicture, type FormatName } from './codec/picture.ts';
export { bytesOfDds } from './codec/dds/write.ts';
export { MOST_PAINTED, type PaintedLevel, type ReplacedLevel, type SourceOf } from './sieve/own-levels.ts';
export { readDds, readDdsLevels } from './codec/dds/read.ts';
export { colourLevels, textureLevels } from './handoff/texture-levels.ts';
export { GLB_SLOTS, leftOutOfGlb } from './handoff/glb-slots.ts';
export { decodePicture, declaredSize, READABLE_EXTENSIONS, ROWS_FROM_TEXELS } from './codec/decode.ts';
export { readPng } from './codec/png/read.ts';
export { filterRows, writePng } from './codec/png/write.ts';
export { readTga } from './codec/tga.ts';
export type { Applied, Doubt, Found, SourceRead, StepEnv, StepKind } from './steps/step.ts';
export * from './steps/stretches.ts';
export type { Place } from './mask/regions.ts';
export * from './steps/registry.ts';
export { CHANNELS, extractChannel, type Channel, type FromChannelParams } from './steps/from-channel.ts';
export { COLOUR_METRICS } from './mask/by-colour.ts';
export { COLOUR_REACHES, type FromColourParams } from './steps/from-colour.ts';
export { levelsTable, type LevelsParams } from './steps/levels.ts';
export { bleedColour, type BleedParams } from './steps/bleed.ts';
export { BLEED_HOWS, BLEED_UNDERS } from './steps/bleed.ts';
export { GRADIENT_BLENDS, gradientWords, type GradientBlend, type Stop } from './colour/gradient.ts';
export { MOST_STOPS, RAMP_BYS, type RampLook, type RampParams } from './steps/ramp.ts';
export { SWING_OVERS } from './steps/swing.ts';
export { LEVELLED } from './steps/colour-levels.ts';
export { SIDES } from './steps/fit/lay.ts';
export { texelsAtMost } from './run/size-at-most.ts';
export { TURN_HOWS } from './steps/fit/turn-to-fit.ts';
export { RESIZE_BYS } from './steps/fit/resize.ts';
export { TILE_WAYS } from './steps/fit/make-tileable.ts';
export { boxTurned, largestIn, type Laid } from './fit/calipers.ts';
export { keptHull, type Corner } from './fit/hull.ts';
export type { Placing } from './fit/placing.ts';
export { resampleMap } from './fit/resample.ts';
export { leastSeam, overlapOf, seamError } from './fit/seam.ts';
export { HEIGHT_BLENDS } from './steps/maps/heights.ts';
export { EDGE_PROFILES } from './steps/maps/height-from-edge.ts';
export { VEIN_TONES } from './steps/maps/height-from-veins.ts';
export { HAND_DOES, handHeights, handPlain, type HeightByHandParams } from './steps/maps/height-by-hand.ts';
export { GREEN_WAYS, NORMAL_BLENDS, type GreenWay } from './steps/maps/normal-from-picture.ts';
export { NORMAL_TURNS } from './steps/maps/flip-normals.ts';
export { LIGHT_RANGES, LIGHTS, type Light } from './steps/maps/normal-from-lights.ts';
export {
  VALUE_MAPS,
  VALUE_RECIPES,
  type ValueMapName,
  type ValueMapParams,
  type ValueRecipe,
} from './steps/maps/value-map.ts';
export { normalsOf } from './relief/normals.ts';
export { reorient } from './relief/blend-normals.ts';
export { photometricStereo } from './relief/photometric.ts';
export { openSky } from './relief/open-sky.ts';
export { localThickness } from './relief/local-thickness.ts';
export { depthInside } from './mask/depth.ts';
export { pushPull } from './mask/push-pull.ts';
export { regionMap } from './mask/region-map.ts';
export { estimateForeground } from './matte/foreground.ts';
export { COMBINE_HOWS, type CombineParams } from './steps/combine.ts';
export type { CutBelowParams } from './steps/cut-below.ts';
export { FEATHER_SIDES, type FeatherParams } from './steps/feather.ts';
export type { ClearHolesParams } from './steps/clear-holes.ts';
export type { CutByPieceParams } from './steps/cut-by-piece.ts';
export type { FromPieceParams } from './steps/from-piece.ts';
export { type FromStrokesParams, type Scribble } from './steps/from-strokes.ts';
export { TOUCH_TAKES, type FromTouchParams } from './steps/from-touch.ts';
export { MIXED_INS } from './matte/mixing.ts';
export { UNMIX_FROMS, type UnmixParams } from './steps/unmix.ts';
export { fitBackdrop } from './matte/backdrop.ts';
export { PERFORATE_PATTERNS, type PerforateParams } from './steps/perforate.ts';
export type { SmallRegionsParams } from './steps/small-regions.ts';
export type { TexelAt } from './mask/connected.ts';
export { edgeOffset } from './mask/edge-distance.ts';
export { nearestTexels } from './mask/nearest.ts';
export { findRegions, regionAt } from './mask/regions.ts';
export { blurValues } from './mask/blur.ts';
export { keptBox } from './mask/kept-box.ts';
export { curveAt, type CurvePoint } from './math/curve.ts';
export * from './strokes/stroke.ts';
export { boxesOfTiles } from './strokes/tile-boxes.ts';
export { TILE, Coverage, FULL as FULL_COVERAGE } from './strokes/coverage.ts';
export { drawStroke, strokesOf } from './strokes/draw-stroke.ts';
export { keysOfStrokes, StrokePainter } from './strokes/painter.ts';
export type { Overlay, OverlayTile } from './strokes/overlay.ts';
export type { StrokesParams } from './steps/strokes.ts';
export { angleOf, cosine, sine } from './math/trigonometry.ts';
export * from './sieve/read-as-colour.ts';
export * from './math/threshold.ts';
export * from './sieve/histogram.ts';
export * from './sieve/drawn/draw-clip.ts';
export { bayerMatrix } from './math/bayer.ts';
export { distanceField, FIELD_DIVISORS, magnified, type FieldDivisor } from './sieve/distance-field.ts';
export { fringeOf, type Fringe } from './sieve/fringe.ts';
export { otsuThreshold } from './sieve/otsu.ts';
export { mapMips } from './sieve/map-mips.ts';
export { colourMips, halveMask, halvePicture, maskMips } from './sieve/mips.ts';
export { filterTaps, filterWeight, MIP_FILTERS, WRAPS, type MipFilter, type Wrap } from './sieve/mip-filters.ts';
export { filteredColourMips, filteredMaskMips, type FilterOptions } from './sieve/filtered-mips.ts';
export { holdAtDistance, HOLD_DEFAULTS, HOLD_VERSION, type Held, type HoldOptions } from './sieve/hold/hold.ts';
export type { HeldLevel } from './sieve/hold/judge.ts';
export { scaledToCoverage } from './sieve/keep/scaled.ts';
export { diffusedAlpha } from './sieve/keep/diffused.ts';
export { localCoverage } from './sieve/keep/local.ts';
export * from './sieve/levels.ts';
export { METHODS, methodFigures, type MethodFigures } from './sieve/methods.ts';
export { levelDistance } from './sieve/level-distance.ts';
export { finished } from './run/finish.ts';
export { BREAK_KINDS, whatBreaks, type Break, type BreakKind, type LevelBreaks } from './sieve/breaks/what-breaks.ts';
export { levelFigures, type LevelFigures } from './sieve/mip-table.ts';
export * from './codec/bc/formats.ts';
export { encodeBlocks, type EncodeOptions } from './codec/bc/encode.ts';
export { decodeBlocks } from './codec/bc/decode.ts';
export * from './sieve/summary.ts';
export { MaskTally } from './sieve/tally.ts';
export { boundsOf, joinBoxes, type Box } from './raster/box.ts';
export * from './piece/piece-doc.ts';
export { describeSource } from './piece/describe-source.ts';
export * from './piece/source-facts.ts';
export { inspectSource, type Proxy } from './piece/inspect-source.ts';
export { sourceChanges } from './piece/source-changes.ts';
export {
  groupByName,
  readName,
  ROLE_ENDINGS,
  type Endings,
  type NamedFile,
  type NamedRole,
} from './piece/file-roles.ts';
export { dropBackdrop, guessRole, startingRun } from './piece/starting-run.ts';
export * from './run/cache.ts';
export * from './run/run.ts';
export { isPointwise } from './run/pointwise.ts';
export * from './run/evaluate.ts';
export { withMaskAsAlpha, withoutAlpha } from './run/compose.ts';
export type { Remedy, Snag, SnagContext } from './snags/snag.ts';
export { doubtsOf, surfaceFacts, type SurfaceFacts } from './snags/surface-facts.ts';
export { haloOf, type Places } from './sieve/halo.ts';
export { curlOf } from './relief/integrability.ts';
export { findSnags } from './snags/checks.ts';
export * from './card/surface.ts';
export { cardSize, cardSurface, type CardSize } from './card/kinds.ts';
export { ONE_CARD, SET_APART, SET_CARDS, SET_KINDS, type CardSet, type SetKind } from './card/set.ts';
export type { Vec3 } from './math/vector.ts';
export { CARD_ROUGHNESS, gltfMaterial } from './glb/material.ts';
export { writeCardGlb, type CardGlb } from './glb/write.ts';
export { readCardGlb } from './glb/read.ts';
export * from './handoff/profile.ts';
export type { FilePlan } from './handoff/file-plan.ts';
export type { FileSlot, ProfileId } from './piece/profile-id.ts';
export { FOLLOWED_KEPT, thinFollowed } from './piece/thin-history.ts';
export { fileStem, isFileName, NAME_PARTS } from './handoff/file-name.ts';
export { assertPattern } from './handoff/pattern.ts';
export { readBack, type Check } from './handoff/read-back.ts';
export * from './sieve/suggest.ts';
export { thinnestConnection } from './sieve/thinnest.ts';
export * from './handoff/storages.ts';
export {
  growRecipe,
  makeRecipe,
  partsEnlarged,
  recipeKind,
  RECIPE_KINDS,
  RECIPE_KIND_NAMES,
  RECIPE_MAPS,
  recipeShapes,
  sceneBytes,
  sceneOf,
  type GrowHow,
  type GrownSource,
  type PartPicture,
} from './recipe/grow.ts';
export { grownPiece } from './piece/grown-piece.ts';
export {
  MOST_ATLAS_PARTS,
  MOST_COPIES,
  MOST_PLACED,
  PART_WEIGHT,
  partedTo,
  withPart,
  type AtlasParams,
  type AtlasPlace,
} from './recipe/atlas/atlas.ts';
export { ATLAS_TURNINGS, type AtlasTurning } from './recipe/atlas/pack.ts';
export { cardOf, hasRegions } from './piece/has-regions.ts';
export { regionsFile, regionsName, type RegionsFile } from './handoff/regions-file.ts';
export { packAtlas, type AtlasPacking } from './recipe/atlas/packing.ts';
export { atlasRegions, type AtlasRegion } from './recipe/atlas/regions.ts';
export { STARTING_POINTS, type StartingPoint } from './recipe/gallery.ts';
export { PART_MAPS, partFiles, type RecipePart } from './recipe/part.ts';
export { mainColours } from './mask/main-colours.ts';
export { boxOfStroke } from './strokes/draw-stroke.ts';
export { idleStrokes } from './strokes/idle-strokes.ts';
export { partOf, type Part } from './recipe/part-of.ts';
export { recipeFacts } from './piece/recipe-facts.ts';
export {
  isRecipeKey,
  recipeKey,
  RECIPE_SEED,
  RECIPE_SIDE,
  type Recipe,
  type RecipeKindName,
  type RecipeParams,
} from './recipe/recipe.ts';
export { aroundStem, GOLDEN_ANGLE, LEAF_ORDERS, LEAF_OVERLAPS, LEAF_SHAPES, type SprayParams } from './recipe/spray.ts';
export { drawnStrands, MOST_GUIDES, MOST_STRANDS, type Guide, type StrandsParams } from './recipe/strands.ts';
export {
  bladesOf,
  pinnedBlades,
  rootSpan,
  MOST_BLADES,
  spineOf,
  TUFT_STREWINGS,
  type Blade,
  type PinnedBlade,
  type TuftParams,
} from './recipe/tuft.ts';
export { CORNERS, type NetCorners } from './recipe/weave/loom.ts';
export { WEAVE_PATTERNS, type WeaveParams, type WeavePattern } from './recipe/weave/weave.ts';
