import { textOf, utf8 } from '../../codec/utf8.ts';
import type { MapName } from '../../raster/maps.ts';
import { readMtlx } from '../../scene/mtlx-read.ts';
import { writeMtlx, type MtlxShader } from '../../scene/mtlx-write.ts';
import { WITHOUT_PICTURE, type FileFormat } from '../file-format.ts';
import type { MtlxPlan } from '../file-plan.ts';
import { checkSays, isBeside, leftOutOf, sceneFrom } from './scene-files.ts';

/** What the shading models have an input for. */
const PLACES: Record<MtlxShader, readonly MapName[]> = {
  gltf_pbr: ['backColour', 'normal', 'roughness', 'metalness', 'occlusion', 'emission', 'specular'],
  standard_surface: ['backColour', 'normal', 'roughness', 'metalness', 'emission', 'translucency', 'throughColour'],
};

/** Materials of a card, without it. */
export const MTLX_FORMAT: FileFormat<MtlxPlan> = {
  ...WITHOUT_PICTURE,
  write({ shader }, piece) {
    const scene = sceneFrom(piece);
    return Promise.resolve({
      bytes: utf8(writeMtlx(scene, shader)),
      check(bytes, { material }, given, add) {
        checkSays(readMtlx(textOf(bytes)), material, isBeside(given), add);
      },
    });
  },
  leavesOut: ({ shader }, maps, doc) =>
    leftOutOf(PLACES[shader], maps, doc, shader === 'gltf_pbr' ? ['the card', ...sides(doc.material.doubleSided)] : []),
};

const sides = (doubleSided: boolean) => (doubleSided ? ['that both sides show'] : []);
