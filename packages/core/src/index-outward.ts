// The part of it that looks at a finished piece: material, light, proposals, scenes, hand-off, receivers, snags.
export { missingIn, packedRaster, packedWords } from './handoff/packed.ts';
export { type BackLook, pieceView, tintOf } from './material/piece-view.ts';
export {
  CARD_ROUGHNESS,
  backGltfMaterial,
  backName,
  gltfMaterial,
  PLAIN_GREY,
  plainGltfMaterial,
  type GltfMaterial,
} from './material/gltf-material.ts';
export { MATERIAL_SLOTS, SLOT_NAMES, type SlotName } from './material/slots.ts';
export type { Beside, CardApart, CardGlb, GlbTools, ReadGlb } from './handoff/glb-tools.ts';
export type { Check, PackTools } from './handoff/file-format.ts';
export { takeStart } from './propose/take-start.ts';
export {
  type AllProposed,
  type Proposal,
  type ProposeOptions,
  proposeForKinds,
  proposeMasks,
} from './propose/propose-masks.ts';
export { isFileName, sceneName } from './handoff/file-name.ts';
export { type FilePlan, isPicture, isScene, isText, isTexture } from './handoff/file-plan.ts';
export type { MaterialDescription } from './handoff/formats/description.ts';
export { formatOf } from './handoff/formats.ts';
export { bytesOnCard, type Saving, savingsOf } from './handoff/budget.ts';
export { packingOf } from './handoff/packing-of.ts';
export { settingsOf } from './handoff/settings.ts';
export { assertParts, assertPattern } from './handoff/pattern.ts';
export { fileName, filesOf, holdsLevels, packHandOff, PROFILE_GROUPS, profileOf, PROFILES } from './handoff/profile.ts';
export { readBack } from './handoff/read-back.ts';
export { targetOf } from './handoff/target-of.ts';
export { benchLook, receiveHandOff } from './receivers/receive.ts';
export { readUsdz } from './scene/usdz.ts';
export { readStrictGlb } from './receivers/strict-glb.ts';
export type { Fix, ReceiveTools, Verdict } from './receivers/receiver.ts';
export {
  MOST_MARKED,
  type Storage,
  STORAGE_NAMES,
  storageFigures,
  type StorageFigures,
  STORAGES,
  storedLevels,
  type StoredLevels,
  type StoreOptions,
} from './handoff/storages.ts';
export { colourLevels } from './handoff/texture-levels.ts';
export { findSnags } from './snags/checks.ts';
export { fieldDivisorOf } from './snags/field-rounds.ts';
export type { Snag, SnagContext } from './snags/snag.ts';
export type { Look, StandFacts } from './snags/why/link.ts';
export { answerWhy, WHY, WHY_NAMES, type Answer, type WhyName } from './snags/why/why.ts';
export { doubtsOf, surfaceFacts, type SurfaceFacts } from './snags/surface-facts.ts';
export { planckian, rgbOf, sunWay } from './light/sky.ts';
export { type Behind, BEHIND_AT_FIRST, THINGS_BEHIND, type ThingsBehind } from './light/behind.ts';
export { neutralTone } from './light/tone.ts';
export {
  harmonicsOf,
  STAND_LIGHT_RANGES,
  SKY_LIGHTS,
  SKY_NAMES,
  type SkyName,
  type StandLight,
  type Surroundings,
  radianceAround,
  surroundings,
  TONES,
} from './light/stand-light.ts';
