import { WebIO } from '@gltf-transform/core';
import { KHRMaterialsDiffuseTransmission, KHRMaterialsSpecular } from '@gltf-transform/extensions';

/** Reads and writes containers in memory, with the extensions of materials that our slots use. */
export const glbIo = new WebIO().registerExtensions([KHRMaterialsSpecular, KHRMaterialsDiffuseTransmission]);
