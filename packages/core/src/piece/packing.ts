import type { MapName } from '../raster/maps.ts';

/** Channels of a file, by what they are called together. */
export const PACKED_AS = { grey: ['grey'], RGB: ['R', 'G', 'B'], RGBA: ['R', 'G', 'B', 'A'] } as const;
export type PackedAs = keyof typeof PACKED_AS;
/** Kinds of file, by their extension. */
export const PICTURE_EXTENSIONS = ['png', 'tga', 'tif', 'webp'] as const;
export type PictureExtension = (typeof PICTURE_EXTENSIONS)[number];
/** Kinds of file that hold every mip level, as a graphics card keeps them. */
export const TEXTURE_EXTENSIONS = ['dds', 'ktx2'] as const;
export type TextureExtension = (typeof TEXTURE_EXTENSIONS)[number];
/** What levels that a profile ships are written into. */
export const TEXTURE_CONTAINERS = ['DDS', 'KTX2', 'KTX2, zlib'] as const;
export type TextureContainer = (typeof TEXTURE_CONTAINERS)[number];
/** Those that hold 16 bits. */
export const DEEP_EXTENSIONS: readonly (PictureExtension | TextureExtension)[] = ['png', 'tif'];
/** Blocks that hold channels of so many; none: nothing is compressed. */
export const PACKED_BLOCKS = {
  grey: ['none', 'BC4'],
  RGB: ['none', 'BC1', 'BC5', 'BC7'],
  RGBA: ['none', 'BC1', 'BC3', 'BC7'],
} as const;
export type PackedBlocks = (typeof PACKED_BLOCKS)[PackedAs][number];
export const PACKED_BITS = [8, 16] as const;
/** How often a file is halved: whole, a half, a quarter of the size. */
export const PACKED_HALVINGS = [0, 1, 2] as const;
export const FILL_CHANNELS = ['red', 'green', 'blue'] as const;

/** What a channel of a file holds: a map, or the same value for every texel. */
export type ChannelFill =
  | {
      map: MapName;
      /** Of a map that has several. */
      channel: (typeof FILL_CHANNELS)[number];
      inverted: boolean;
    }
  | { value: number };

/** A file whose channels a person fills. */
export interface PackedFile {
  /** Stands for {map} in its name. */
  name: string;
  /** Left out: PNG. */
  format?: PictureExtension | TextureExtension | undefined;
  /** Of a file with levels; left out: none. */
  blocks?: PackedBlocks | undefined;
  as: PackedAs;
  bits: (typeof PACKED_BITS)[number];
  halvings: (typeof PACKED_HALVINGS)[number];
  /** One for each channel. */
  fills: ChannelFill[];
}

export const PACKING_LIMITS = { files: 16, name: 40 } as const;

const of = (map: MapName, channel: (typeof FILL_CHANNELS)[number] = 'red'): ChannelFill => ({
  map,
  channel,
  inverted: false,
});

/** What a packing of one's own begins with. */
export const PACKING_AT_FIRST: readonly PackedFile[] = [
  {
    name: 'base',
    as: 'RGBA',
    bits: 8,
    halvings: 0,
    fills: [of('colour', 'red'), of('colour', 'green'), of('colour', 'blue'), of('mask')],
  },
  {
    name: 'pack',
    as: 'RGBA',
    bits: 8,
    halvings: 0,
    fills: [of('translucency'), of('roughness'), of('height'), of('mask')],
  },
];
