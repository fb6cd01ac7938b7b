import { WebIO } from '@gltf-transform/core';
import {
  KHRMaterialsDiffuseTransmission,
  KHRMaterialsEmissiveStrength,
  KHRMaterialsSpecular,
} from '@gltf-transform/extensions';

/** Reads and writes containers in memory, with the extensions of materials that our slots use. */
export const glbIo = new WebIO().registerExtensions([
  KHRMaterialsSpecular,
  KHRMaterialsDiffuseTransmission,
  KHRMaterialsEmissiveStrength,
]);

/** An attribute of our own (glTF 2.0 §3.7.2.1 has them begin so): 0 at the root of a card, 1 at its tip. */
export const ROOT_TIP = '_ROOT_TIP';
