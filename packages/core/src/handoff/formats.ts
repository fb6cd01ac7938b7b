import type { FileFormat } from './file-format.ts';
import type { FilePlan } from './file-plan.ts';
import { TEXTURE_FORMAT } from './formats/texture.ts';
import { DESCRIPTION_FORMAT } from './formats/description.ts';
import { GLB_FORMAT } from './formats/glb.ts';
import { BIN_FORMAT, GLTF_FORMAT } from './formats/gltf.ts';
import { MTLX_FORMAT } from './formats/mtlx.ts';
import { MTL_FORMAT, OBJ_FORMAT } from './formats/obj.ts';
import { PICTURE_FORMAT } from './formats/picture.ts';
import { REGIONS_FORMAT } from './formats/regions.ts';
import { USDA_FORMAT, USDZ_FORMAT } from './formats/usd.ts';

/** A format that is written is its file in `formats/`, its plan in `file-plan.ts`, and a line here. */
const FORMATS = {
  png: PICTURE_FORMAT,
  tga: PICTURE_FORMAT,
  tif: PICTURE_FORMAT,
  webp: PICTURE_FORMAT,
  dds: TEXTURE_FORMAT,
  ktx2: TEXTURE_FORMAT,
  glb: GLB_FORMAT,
  gltf: GLTF_FORMAT,
  bin: BIN_FORMAT,
  usda: USDA_FORMAT,
  usdz: USDZ_FORMAT,
  mtlx: MTLX_FORMAT,
  obj: OBJ_FORMAT,
  mtl: MTL_FORMAT,
  regions: REGIONS_FORMAT,
  description: DESCRIPTION_FORMAT,
} satisfies Record<Exclude<FilePlan['extension'], 'json'> | 'regions' | 'description', unknown>;

export function formatOf<P extends FilePlan>(plan: P): FileFormat<P> {
  return FORMATS[plan.extension === 'json' ? plan.holds : plan.extension] as unknown as FileFormat<P>;
}
