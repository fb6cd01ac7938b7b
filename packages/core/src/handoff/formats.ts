import type { FileFormat } from './file-format.ts';
import type { FilePlan, PlanOf } from './file-plan.ts';
import { DDS_FORMAT } from './formats/dds.ts';
import { GLB_FORMAT } from './formats/glb.ts';
import { PICTURE_FORMAT } from './formats/picture.ts';
import { REGIONS_FORMAT } from './formats/regions.ts';

/** A format that is written is its file in `formats/`, its plan in `file-plan.ts`, and a line here. */
const FORMATS: { [E in FilePlan['extension']]: FileFormat<PlanOf<E>> } = {
  png: PICTURE_FORMAT,
  tga: PICTURE_FORMAT,
  tif: PICTURE_FORMAT,
  dds: DDS_FORMAT,
  glb: GLB_FORMAT,
  json: REGIONS_FORMAT,
};

export function formatOf<P extends FilePlan>({ extension }: P): FileFormat<P> {
  return FORMATS[extension] as unknown as FileFormat<P>;
}
