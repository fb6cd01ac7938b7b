import type { MapName } from '../raster/maps.ts';

export type ProfileId =
  | 'glb'
  | 'gltf'
  | 'usd'
  | 'usdz'
  | 'materialx'
  | 'obj'
  | 'described'
  | 'rgba-png'
  | 'rgb-and-mask'
  | 'all-maps'
  | 'packed-maps'
  | 'own-packing'
  | 'dds-bc7'
  | 'dds-bc3'
  | 'dds-bc1'
  | 'dds-rgba'
  | 'distance-2'
  | 'distance-4'
  | 'distance-8';
/** What {map} in a file name stands for. */
export type FileSlot =
  | 'card'
  | 'card_standard'
  | 'description'
  | 'base'
  | 'mask'
  | 'surface'
  | 'regions'
  | 'tint-id'
  | Exclude<MapName, 'colour' | 'mask' | 'tintId'>;
