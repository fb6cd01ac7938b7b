// What applications use of core. What only tests and benchmarks need is under `@lithe-sieve/core/testing`.
export { isSieveError, type PlainError, SieveError, toPlainError } from './errors.ts';
export { cutText, LIMITS } from './limits.ts';
export { bayerMatrix } from './math/bayer.ts';
export { curveAt, type CurvePoint } from './math/curve.ts';
export { digest } from './math/digest.ts';
export type { NumberKeys, Range } from './math/range.ts';
export { thresholdByte } from './math/threshold.ts';
export type { Vec3 } from './math/vector.ts';
export { GRADIENT_BLENDS, gradientWords, type Stop } from './colour/gradient.ts';
export {
  type ChannelFill,
  FILL_CHANNELS,
  PACKED_AS,
  DEEP_EXTENSIONS,
  PACKED_BITS,
  PACKED_BLOCKS,
  type PackedBlocks,
  PACKED_HALVINGS,
  type PackedAs,
  type PackedFile,
  PACKING_AT_FIRST,
  PACKING_LIMITS,
  PICTURE_EXTENSIONS,
  type PictureExtension,
  TEXTURE_CONTAINERS,
  TEXTURE_EXTENSIONS,
  type TextureContainer,
  type TextureExtension,
} from './piece/packing.ts';
export { OPACITY_FROM, type OpacityFrom, type Target, TARGET_AT_FIRST, TARGET_SIDES } from './piece/target.ts';
export { decodeBlocks } from './codec/bc/decode.ts';
export type { BlockFormat } from './codec/bc/formats.ts';
export { readWebp } from './codec/webp.ts';
export { LINEAR_OF_BYTE, type Rgb } from './colour/srgb.ts';
export { boundsOf, type Box, joinBoxes } from './raster/box.ts';
export { boxOfChange, type Change } from './raster/change.ts';
export { fingerprint } from './raster/fingerprint.ts';
export { MAP_NAMES, mapKind, type MapKind, type MapName, MAPS } from './raster/maps.ts';
export {
  allocateHeap,
  asWords,
  makeMask,
  makePicture,
  type Mask,
  type Picture,
  type Raster,
  type Samples,
  toEightBits,
} from './raster/raster.ts';
export { resize } from './raster/resize.ts';
export { type Frame, frameOf, mapOf, mapsOf, type RunState } from './raster/run-state.ts';
export { RowSampler, sampleTexels } from './raster/sample.ts';
export { halvingsTo, shrink } from './raster/shrink.ts';
export { toRgba8 } from './raster/to-rgba8.ts';
export { type Effort, EFFORTS } from './codec/bc/formats.ts';
export { declaredSize, decodePicture, READABLE_EXTENSIONS, ROWS_FROM_TEXELS } from './codec/decode.ts';
export { readDdsLevels } from './codec/dds/read.ts';
export { FORMAT_NAMES } from './codec/picture.ts';
export type { CodecPlatform, Deflate } from './codec/platform.ts';
export { readPng } from './codec/png/read.ts';
export { writeTga } from './codec/tga-write.ts';
export { writeTiff } from './codec/tiff/write.ts';
export { filterRows, writePng } from './codec/png/write.ts';
export { COLOUR_METRICS } from './mask/by-colour.ts';
export type { TexelAt } from './mask/connected.ts';
export { keptBox } from './mask/kept-box.ts';
export { mainColours } from './mask/main-colours.ts';
export type { Place } from './mask/regions.ts';
export { BREAK_KINDS, type LevelBreaks, whatBreaks } from './sieve/breaks/what-breaks.ts';
export {
  CLIP_DRAWING_DEFAULTS,
  CLIP_DRAWINGS,
  type ClipDrawing,
  DITHER_SIDE,
  drawClip,
  SAMPLE_COUNTS,
} from './sieve/drawn/draw-clip.ts';
export { type Fringe, fringeOf } from './sieve/fringe.ts';
export { coverageAt, coverageCurve, histogram, type Histogram } from './sieve/histogram.ts';
export { HOLD_VERSION } from './sieve/hold/hold.ts';
export type { HeldLevel } from './sieve/hold/judge.ts';
export { levelDistance } from './sieve/level-distance.ts';
export {
  changesLevels,
  type Clip,
  HELD_NEWLY,
  holds,
  type Keep,
  KEEPS,
  LEVEL_DEFAULTS,
  LEVEL_MAKERS,
  LEVEL_RANGES,
  type LevelSettings,
  makeLevels,
} from './sieve/levels.ts';
export { mapMips } from './sieve/map-mips.ts';
export { methodFigures, type MethodFigures, METHODS } from './sieve/methods.ts';
export { MIP_FILTERS, type MipFilter, type Wrap, WRAPS } from './sieve/mip-filters.ts';
export { levelFigures, type LevelFigures } from './sieve/mip-table.ts';
export { colourMips, halvePicture, maskMips } from './sieve/mips.ts';
export { seenCoverage, type PixelGrid } from './sieve/seen-coverage.ts';
export { MOST_PAINTED } from './sieve/own-levels.ts';
export { keptReadAsColour } from './sieve/read-as-colour.ts';
export { suggestCutoffs, type Suggestion } from './sieve/suggest.ts';
export {
  drawSilhouette,
  type LevelSummary,
  type MaskSummary,
  sampleSilhouette,
  type Silhouette,
  silhouetteSide,
  summariseMask,
} from './sieve/summary.ts';
export { MaskTally } from './sieve/tally.ts';
export { thinnestConnection } from './sieve/thinnest.ts';
export { MIXED_INS } from './matte/mixing.ts';
export { FULL as FULL_COVERAGE, TILE } from './strokes/coverage.ts';
export { boxOfStroke, strokesOf } from './strokes/draw-stroke.ts';
export { idleStrokes } from './strokes/idle-strokes.ts';
export type { Overlay, OverlayTile } from './strokes/overlay.ts';
export { StrokePainter } from './strokes/painter.ts';
export {
  type Brush,
  BRUSH_DEFAULTS,
  BRUSH_RANGES,
  type BrushStroke,
  FULL_PRESSURE,
  type Mirror,
  type OutlineStroke,
  POINT_UNIT,
  REGION_RANGES,
  type RegionStroke,
  type Stroke,
  STROKE_LIMITS,
  type TipName,
  TIPS,
  TURNS,
} from './strokes/stroke.ts';
export { boxesOfTiles } from './strokes/tile-boxes.ts';
export {
  type AtlasParams,
  type AtlasPlace,
  MOST_ATLAS_PARTS,
  MOST_COPIES,
  MOST_PLACED,
  PART_WEIGHT,
  partedTo,
  withPart,
} from './recipe/atlas/atlas.ts';
export { ATLAS_TURNINGS } from './recipe/atlas/pack.ts';
export { type AtlasPacking, packAtlas } from './recipe/atlas/packing.ts';
export { STARTING_POINTS, type StartingPoint } from './recipe/gallery.ts';
export {
  type GrownSource,
  growRecipe,
  makeRecipe,
  partsEnlarged,
  RECIPE_KINDS,
  recipeKind,
  recipeShapes,
  sceneBytes,
} from './recipe/grow.ts';
export { type Part, partOf } from './recipe/part-of.ts';
export { PART_MAPS, partFiles, type RecipePart } from './recipe/part.ts';
export {
  isRecipeKey,
  type Recipe,
  RECIPE_SEED,
  RECIPE_SIDE,
  recipeKey,
  type RecipeKindName,
  type RecipeParams,
} from './recipe/recipe.ts';
export { LEAF_ORDERS, LEAF_OVERLAPS, LEAF_SHAPES } from './recipe/spray.ts';
export { drawnStrands, type Guide, MOST_GUIDES, MOST_STRANDS, type StrandsParams } from './recipe/strands.ts';
export {
  type Blade,
  bladesOf,
  MOST_BLADES,
  type PinnedBlade,
  pinnedBlades,
  rootSpan,
  spineOf,
  TUFT_STREWINGS,
  type TuftParams,
} from './recipe/tuft.ts';
export { CORNERS } from './recipe/weave/loom.ts';
export { WEAVE_PATTERNS } from './recipe/weave/weave.ts';
export { cardLine, cardRegions, cardSurface } from './card/kinds.ts';
export type { CardRegion } from './card/outline/regions.ts';
export {
  CURVE_CORNERS,
  type FittedOutline,
  fittedOutline,
  OUTLINE_CORNERS,
  outlineCurve,
  type OutlineSettings,
} from './card/outline/fitted-outline.ts';
export {
  CARD_OUTLINE,
  type CardOutline,
  fittedAgain,
  OUTLINE_DOWN_TO,
  type OutlineByHand,
} from './card/outline/card-outline.ts';
export {
  bareMesh,
  type CardMesh,
  MESH_AXES,
  MESH_EXTENSIONS,
  MESH_METRES,
  MESH_UNITS,
  standingMesh,
} from './card/mesh/card-mesh.ts';
export {
  onPlane,
  type MeshPlacement,
  placedUvs,
  placementOnFace,
  placementWithin,
  PLACEMENT_RANGES,
  UV_PLACEMENT,
} from './card/mesh/placement.ts';
export { uvMask } from './card/mesh/uv-mask.ts';
export { uvBorders } from './card/mesh/uv-borders.ts';
export { packMesh, unpackMesh } from './card/mesh/packed.ts';
export { meshChanges } from './card/mesh/mesh-changes.ts';
export { meshFacts, type MeshFacts, uvPicture } from './card/mesh/mesh-facts.ts';
export { looksLikeObj, readObj } from './card/mesh/obj.ts';
export {
  assertMeshSize,
  type FoundMesh,
  MESH_LIMITS,
  type MeshSlot,
  type SlottedMesh,
  userMesh,
  type UserMesh,
} from './card/mesh/user-mesh.ts';
export type { PictureCutOut } from './card/kinds.ts';
export {
  type CardCut,
  cutOfCard,
  cutOutOf,
  handCutLoses,
  outlineChanged,
  outlineOfCard,
  outlinesOfCard,
  outlineWanted,
  partOutlineChanged,
} from './piece/card-outline.ts';
export type { CornerChange } from './card/outline/by-hand.ts';
export type { RegionOutline } from './card/outline/regions.ts';
export { type CardForm, FLAT, FORM_KINDS, FORM_RANGES, FORM_USES, type FormKind } from './card/form.ts';
export { type CardSize, formStretch } from './card/formed.ts';
export { curveThrough, type GroundPlace, LINE_PLACES, LINE_REACH, lineLength } from './card/line.ts';
export { type CardSet, ONE_CARD, SET_APART, SET_BOW, setCards, SET_KINDS, type SetKind } from './card/set.ts';
export { shadedPixels, type ShadedPixels, type ShadedScene } from './card/shaded.ts';
export { STREWN, strewn, type Strewn } from './card/strewn.ts';
export { CARD_NORMALS, NORMAL_KINDS, type CardNormals } from './card/card-normals.ts';
export { CARD_SIDES, type CardSides, SIDES_APART } from './card/sides.ts';
export type { Wraps } from './card/wraps.ts';
export { type CardSurface, meshSurface, type PlainPart, type SurfaceHit } from './card/surface.ts';
export { subMesh, type SurfaceMesh } from './card/surface-mesh.ts';
export { BLEED_HOWS, BLEED_UNDERS } from './steps/bleed.ts';
export type { ClearHolesParams } from './steps/clear-holes.ts';
export { LEVELLED } from './steps/colour-levels.ts';
export { COMBINE_HOWS } from './steps/combine.ts';
export type { CutByPieceParams } from './steps/cut-by-piece.ts';
export { FEATHER_SIDES } from './steps/feather.ts';
export { SIDES } from './steps/fit/lay.ts';
export { TILE_WAYS } from './steps/fit/make-tileable.ts';
export { RESIZE_BYS } from './steps/fit/resize.ts';
export { TURN_HOWS } from './steps/fit/turn-to-fit.ts';
export { COLOUR_ORIGINS, type ColourMapParams, DIMMINGS } from './steps/maps/colour-map.ts';
export { type Channel, CHANNELS, extractChannel } from './steps/from-channel.ts';
export { COLOUR_REACHES, type FromColourParams } from './steps/from-colour.ts';
export type { FromPieceParams } from './steps/from-piece.ts';
export type { FromStrokesParams, Scribble } from './steps/from-strokes.ts';
export { TOUCH_TAKES } from './steps/from-touch.ts';
export { NORMAL_TURNS } from './steps/maps/flip-normals.ts';
export { HAND_DOES, handHeights, handPlain, type HeightByHandParams } from './steps/maps/height-by-hand.ts';
export { EDGE_PROFILES } from './steps/maps/height-from-edge.ts';
export { VEIN_TONES } from './steps/maps/height-from-veins.ts';
export { HEIGHT_BLENDS } from './steps/maps/heights.ts';
export { type Light, LIGHT_RANGES, LIGHTS } from './steps/maps/normal-from-lights.ts';
export { GREEN_WAYS, type GreenWay, NORMAL_BLENDS } from './steps/maps/normal-from-picture.ts';
export { VALUE_MAPS, type ValueMapName } from './steps/maps/value-map.ts';
export { VALUE_RECIPES, type ValueMapParams, type ValueRecipe } from './steps/maps/value-recipes.ts';
export { PERFORATE_PATTERNS } from './steps/perforate.ts';
export { MOST_STOPS, RAMP_BYS, type RampLook } from './steps/ramp.ts';
export { STEP_KINDS, stepKind, type StepKindName, type StepParams } from './steps/registry.ts';
export type { SmallRegionsParams } from './steps/small-regions.ts';
export type { Doubt, Found } from './steps/step.ts';
export { CLIP, type Purpose, PURPOSES, type Stretch, STRETCH_NAMES, STRETCHES } from './steps/stretches.ts';
export type { StrokesParams } from './steps/strokes.ts';
export { SWING_OVERS } from './steps/swing.ts';
export { UNMIX_FROMS } from './steps/unmix.ts';
export { describeSource } from './piece/describe-source.ts';
export {
  type Endings,
  groupByName,
  type NamedFile,
  type NamedRole,
  readName,
  ROLE_ENDINGS,
} from './piece/file-roles.ts';
export { grownPiece } from './piece/grown-piece.ts';
export { cardOf } from './piece/has-regions.ts';
export { inspectSource } from './piece/inspect-source.ts';
export {
  type AlphaMode,
  type Budget,
  DOC_SCHEMA,
  EMISSION_MOST,
  endOfStretch,
  type HandStep,
  isHandStep,
  makeStep,
  type Material,
  moveStep,
  PIECE_DEFAULTS,
  type PieceDoc,
  SOURCE_ROLES,
  type SourcePlace,
  type SourceRef,
  type SourceRole,
  type StepEntry,
} from './piece/piece-doc.ts';
export type { ProfileId } from './piece/profile-id.ts';
export { recipeFacts } from './piece/recipe-facts.ts';
export { sourceChanges } from './piece/source-changes.ts';
export type { SourceFacts } from './piece/source-facts.ts';
export { dropBackdrop, guessRole, startingRun } from './piece/starting-run.ts';
export { FOLLOWED_KEPT, thinFollowed } from './piece/thin-history.ts';
export { makeRunCache } from './run/cache.ts';
export { withMaskAsAlpha } from './run/compose.ts';
export { evaluateRun } from './run/evaluate.ts';
export { finished } from './run/finish.ts';
export { runHostOf } from './run/host-of.ts';
export { isPointwise } from './run/pointwise.ts';
export type { RunHost, RunResult, RunSource, StepResult } from './run/run.ts';
export { texelsAtMost } from './run/size-at-most.ts';
export { vertexTangents } from './card/tangents.ts';
export {
  SCENE_SPACE,
  SCENE_UNITS,
  type SceneSpace,
  type SceneUnit,
  UP_AXES,
  type UpAxis,
} from './piece/scene-space.ts';
export {
  NAME_LIMITS,
  NAME_PARTS,
  NAME_WORDS,
  type NamedState,
  NAMED_STATES,
  type NameFacts,
  type Naming,
  SCENE_PATTERN,
} from './piece/naming.ts';
export { isFitted, laidOnMesh, offMesh } from './piece/laid-on-mesh.ts';
export { fieldLoss, type FieldDivisor, type FieldLoss } from './sieve/distance-field.ts';
export { chance } from './math/chance.ts';
export * from './index-outward.ts';
