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
  /** Ids are no amounts: one of the four is taken, never a mean. */
  readonly mips: 'linear light' | 'values' | 'renormalised normals' | 'one of them';
}

/** A map of one value a texel. */
function byte<L extends string>(label: L, hint: string, neutral: number) {
  return { label, hint, channels: 1, depth: 8, holds: 'data', neutral: [neutral], mips: 'values' } as const;
}

/** A map of colours, which has no alpha of its own. */
function colours<L extends string>(label: L, hint: string) {
  return {
    label,
    hint,
    channels: 4,
    depth: 8,
    holds: 'colour',
    neutral: [255, 255, 255, 255],
    mips: 'linear light',
  } as const;
}

/**
 * Every map that a run can carry. A new one is an entry here and the step that makes it: caches, fingerprints, mip
 * levels, textures, the Sheet, files and their checks go over this table.
 */
export const MAPS = {
  colour: colours('picture', 'The colour, alpha left aside'),
  mask: {
    label: 'mask',
    hint: 'White is kept, black is dropped',
    channels: 1,
    depth: 8,
    holds: 'data',
    neutral: [255],
    mips: 'values',
  },
  backColour: colours('back colour', 'The colour of the underside, for a back that is geometry'),
  height: {
    label: 'height',
    hint: 'White is high, black is low',
    channels: 1,
    depth: 16,
    holds: 'data',
    neutral: [32768],
    mips: 'values',
  },
  normal: {
    label: 'normal',
    hint: 'Directions of the surface, +Y up as in OpenGL',
    channels: 3,
    depth: 16,
    holds: 'data',
    neutral: [32768, 32768, 65535],
    mips: 'renormalised normals',
  },
  roughness: byte('roughness', 'White is dull, black is a mirror', 191),
  specular: byte('specular', 'How much is mirrored head on: half is 4 %', 128),
  metalness: byte('metalness', 'White is bare metal', 0),
  occlusion: byte('occlusion', 'How much of the sky is seen: black is a deep hole', 255),
  translucency: byte('translucency', 'How much light shines through', 0),
  throughColour: colours('translucency colour', 'What light is coloured by that shines through'),
  emission: { ...colours('emission', 'Light that the surface gives off by itself'), neutral: [0, 0, 0, 255] },
  thickness: byte('thickness', 'White is thick', 255),
  tintId: { ...byte('tint id', 'A grey of its own for each blade or region', 0), mips: 'one of them' },
  dirt: byte('dirt', 'White is dirty', 0),
  rootTip: byte('root to tip', 'Black at the root of a blade or strand, white at its tip: what sways most', 0),
} as const satisfies Record<string, MapKind>;

export type MapName = keyof typeof MAPS;
export const MAP_NAMES = Object.keys(MAPS) as MapName[];

/** The entry of a map, widened. */
export function mapKind(name: MapName): MapKind {
  return MAPS[name];
}
