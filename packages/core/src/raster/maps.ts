/** What a map is, and what its mip levels keep. */
export interface MapKind {
  readonly label: string;
  /** What a person sees in it, a few words. */
  readonly hint: string;
  readonly channels: 1 | 2 | 3 | 4;
  /** Bits a sample, in the run and in files. */
  readonly depth: 8 | 16;
  /** Colour is light in sRGB encoding and is averaged in linear light; data are values and are averaged as they are. */
  readonly holds: 'colour' | 'data';
  /** One texel of a map that says nothing, in samples. */
  readonly neutral: readonly number[];
  readonly mips: 'linear light' | 'values' | 'renormalised normals';
}

/**
 * Every map that a run can carry. A new one is an entry here and the step that makes it: caches, fingerprints, mip
 * levels, textures, the Sheet, files and their checks go over this table.
 */
export const MAPS = {
  colour: {
    label: 'picture',
    hint: 'The colour, alpha left aside',
    channels: 4,
    depth: 8,
    holds: 'colour',
    neutral: [255, 255, 255, 255],
    mips: 'linear light',
  },
  mask: {
    label: 'mask',
    hint: 'White is kept, black is dropped',
    channels: 1,
    depth: 8,
    holds: 'data',
    neutral: [255],
    mips: 'values',
  },
} as const satisfies Record<string, MapKind>;

export type MapName = keyof typeof MAPS;

/** The entry of a map, widened. */
export function mapKind(name: MapName): MapKind {
  return MAPS[name];
}
