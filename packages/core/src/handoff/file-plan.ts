import type { DdsFormat } from '../codec/dds/write.ts';
import type { MapName } from '../raster/maps.ts';
import type { FieldDivisor } from '../sieve/distance-field.ts';
import type { FileSlot } from '../piece/profile-id.ts';

/** A file that a profile writes. */
export interface FilePlan {
  slot: FileSlot;
  extension: 'glb' | 'png' | 'dds';
  /** How a DDS holds its texels. */
  texels?: DdsFormat;
  /** A mask as distances from its outline, so many times smaller. */
  divisor?: FieldDivisor;
  /** One map, or several in the channels of one. */
  holds: MapName | 'colour and mask' | 'occlusion, roughness, metalness';
  /** For a person, a few words. */
  contents: string;
}
