import type { DdsFormat } from '../codec/dds/write.ts';
import type { FileSlot } from '../piece/profile-id.ts';
import { PICTURE_EXTENSIONS, type PackedFile, type PictureExtension } from '../piece/packing.ts';
import { mapKind, MAPS, type MapName } from '../raster/maps.ts';
import type { FieldDivisor } from '../sieve/distance-field.ts';

/** What every plan says. */
interface Planned {
  /** What {map} of its name stands for: of our own profiles one of these, else what a person called it. */
  slot: FileSlot | (string & {});
  /** For a person, a few words. */
  contents: string;
}

export interface PicturePlan extends Planned {
  extension: PictureExtension;
  /** One map, or several in the channels of one. */
  holds: MapName | 'colour and mask' | 'occlusion, roughness, metalness' | 'packed';
  /** Where a person fills its channels. */
  packed?: PackedFile;
  /** A mask as distances from its outline, so many times smaller. */
  divisor?: FieldDivisor;
}

/** All mip levels in one file. */
export interface DdsPlan extends Planned {
  extension: 'dds';
  holds: 'colour and mask';
  texels: DdsFormat;
}

/** The card with its material. */
export interface GlbPlan extends Planned {
  extension: 'glb';
  holds: 'colour and mask';
}

/** Where the parts of an atlas lie. */
export interface RegionsPlan extends Planned {
  extension: 'json';
  holds: 'regions';
}

/** A file that a hand-off writes. Each kind has its format in `formats/`. */
export type FilePlan = PicturePlan | DdsPlan | GlbPlan | RegionsPlan;
export type PlanOf<E extends FilePlan['extension']> = E extends PictureExtension
  ? PicturePlan
  : Extract<FilePlan, { extension: E }>;

export function isPicture(plan: FilePlan): plan is PicturePlan {
  return PICTURE_EXTENSIONS.some((extension) => extension === plan.extension);
}

/** Whether it is seen as it is: then a file may say that it is sRGB, which of data would be wrong. */
export function isColour({ holds, packed: of }: PicturePlan): boolean {
  if (of) return of.fills.some((fill) => 'map' in fill && mapKind(fill.map).holds === 'colour');
  return holds === 'colour' || holds === 'colour and mask' || (holds in MAPS && mapKind(holds as MapName).holds === 'colour'); // prettier-ignore
}
