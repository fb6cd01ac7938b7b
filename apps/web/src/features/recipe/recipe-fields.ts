import {
  ATLAS_TURNINGS,
  LEAF_ORDERS,
  LEAF_OVERLAPS,
  LEAF_SHAPES,
  TUFT_STREWINGS,
  WEAVE_PATTERNS,
  type RecipeKindName,
  type RecipeParams,
} from '@lithe-sieve/core';
import type { AnyField, Field } from '../run/forms/fields';

/** Controls under a heading; the first group of a kind is open. */
export interface FieldGroup {
  title: string;
  fields: readonly AnyField[];
}

function group<K extends RecipeKindName>(
  _kind: K,
  title: string,
  fields: readonly Field<RecipeParams[K]>[],
): FieldGroup {
  return { title, fields: fields as unknown as readonly AnyField[] };
}

const SWING = [
  {
    as: 'number',
    name: 'tint',
    label: 'Tint swing',
    hint: 'How far copies go from the first colour towards the other.',
  },
  { as: 'number', name: 'lightness', label: 'Lightness swing', hint: 'Largest change of lightness to either side.' },
  { as: 'number', name: 'richness', label: 'Richness swing', hint: 'Largest change of how strong the colour is.' },
] as const;

const isWoven = (pattern: string) => /net|wire|cloth|lace/.test(pattern);

/** The tray of a kind of recipe. */
export const RECIPE_FIELDS: Record<RecipeKindName, readonly FieldGroup[]> = {
  tuft: [
    group('tuft', 'Blades', [
      { as: 'number', name: 'blades', label: 'Blades', hint: 'How many grow.' },
      { as: 'choice', name: 'strewing', label: 'Roots', options: TUFT_STREWINGS, list: true },
      { as: 'number', name: 'area', label: 'Depth of the area', hint: 'Share of the card’s height that roots are strewn over.', when: ({ strewing }) => strewing === 'over an area' },
      { as: 'number', name: 'shorter', label: 'Shorter by up to', hint: 'How much shorter than the envelope a blade may be.' },
      { as: 'number', name: 'clumping', label: 'Clumping', hint: 'How far roots are drawn together.', when: ({ strewing }) => strewing === 'along a line' },
      { as: 'number', name: 'clumps', label: 'Clumps', hint: 'How many there are.', when: ({ strewing, clumping }) => strewing === 'along a line' && clumping > 0 },
    ]),
    group('tuft', 'Lean and bend', [
      { as: 'number', name: 'lean', label: 'Outward lean', hint: 'Of blades at the ends of the root line.' },
      { as: 'number', name: 'leanSpread', label: 'Random lean', hint: 'To either side.' },
      { as: 'number', name: 'bendFrom', label: 'Least bend', hint: 'From root to tip.' },
      { as: 'number', name: 'bendTo', label: 'Largest bend', hint: 'From root to tip.' },
      { as: 'number', name: 'mirrored', label: 'Mirrored', hint: 'Share of blades that lean and bend the other way.' },
    ]),
    group('tuft', 'Shape of a blade', [
      { as: 'number', name: 'bladeWidth', label: 'Width', hint: 'At its widest, as a share of the card’s width.' },
      { as: 'number', name: 'slimmer', label: 'Slimmer by up to', hint: 'How much slimmer a blade may be.' },
      { as: 'number', name: 'point', label: 'Point', hint: '0 is blunt, 1 a needle.' },
      { as: 'number', name: 'fold', label: 'Fold', hint: 'How far its edges stand up; shows in the light and in the normals.' },
      { as: 'number', name: 'midrib', label: 'Midrib', hint: 'How much lighter its middle is.' },
      { as: 'number', name: 'torn', label: 'Torn', hint: 'Share of blades whose tip is gone.' },
    ]),
    group('tuft', 'Colour', [
      { as: 'colour', name: 'colour', label: 'Colour' },
      { as: 'colour', name: 'otherColour', label: 'Other colour' },
      ...SWING,
      { as: 'number', name: 'rootDark', label: 'Darker root', hint: 'How much darker the root is than the tip.' },
    ]),
  ],
  spray: [
    group('spray', 'Leaves', [
      { as: 'choice', name: 'order', label: 'They stand', options: LEAF_ORDERS, list: true },
      { as: 'number', name: 'perWhorl', label: 'In a whorl', hint: 'Leaves at each place.', when: ({ order }) => order === 'whorled' },
      { as: 'number', name: 'places', label: 'Places', hint: 'Along the stem where leaves stand.' },
      { as: 'number', name: 'bare', label: 'Bare below', hint: 'Share of the stem without leaves.' },
      { as: 'number', name: 'angle', label: 'Angle', hint: 'Between a leaf and the stem.' },
      { as: 'number', name: 'angleSpread', label: 'Off by up to', hint: 'How far an angle may be off.' },
      { as: 'number', name: 'droop', label: 'Droop', hint: 'How far leaves hang down; below 0 they bend up.' },
      { as: 'number', name: 'toLight', label: 'Turned to the light', hint: 'How far leaves turn upright.' },
      { as: 'choice', name: 'overlap', label: 'In front', options: LEAF_OVERLAPS, list: true },
    ]),
    group('spray', 'Shape of a leaf', [
      { as: 'choice', name: 'shape', label: 'Shape', options: LEAF_SHAPES },
      { as: 'number', name: 'leafLength', label: 'Length', hint: 'Of the lowest, as a share of the card’s width.' },
      { as: 'number', name: 'slim', label: 'Width', hint: 'As a share of its length.' },
      { as: 'number', name: 'atTip', label: 'Size at the tip', hint: 'Of the last leaf, against the first.' },
      { as: 'number', name: 'sizeSpread', label: 'Smaller by up to', hint: 'How much smaller a leaf may be.' },
      { as: 'number', name: 'point', label: 'Point', hint: '0 is round, 1 pointed.', when: ({ shape }) => shape === 'leaf' },
      { as: 'number', name: 'fold', label: 'Fold', hint: 'How far its edges stand up.' },
      { as: 'number', name: 'midrib', label: 'Midrib', hint: 'How much lighter its middle is.' },
    ]),
    group('spray', 'Stem and branches', [
      { as: 'number', name: 'bend', label: 'Bend', hint: 'From root to tip.' },
      { as: 'number', name: 'stem', label: 'Thickness', hint: 'At the root, as a share of the card’s width.' },
      { as: 'number', name: 'branches', label: 'Branches', hint: 'On both sides in turn.' },
      { as: 'number', name: 'branchAngle', label: 'Angle of branches', hint: 'To the stem.', when: ({ branches }) => branches > 0 },
      { as: 'number', name: 'branchLength', label: 'Length of branches', hint: 'Of the stem’s.', when: ({ branches }) => branches > 0 },
    ]),
    group('spray', 'Wear', [
      { as: 'number', name: 'gaps', label: 'Missing', hint: 'Share of leaves that are gone.' },
      { as: 'number', name: 'damaged', label: 'Torn or eaten', hint: 'Share of leaves.' },
    ]),
    group('spray', 'Colour', [
      { as: 'colour', name: 'colour', label: 'Colour' },
      { as: 'colour', name: 'otherColour', label: 'Other colour' },
      { as: 'colour', name: 'stemColour', label: 'Stem' },
      ...SWING,
    ]),
  ],
  strands: [
    group('strands', 'Strands', [
      { as: 'number', name: 'strands', label: 'Strands', hint: 'How many grow between the guides.' },
      { as: 'number', name: 'thick', label: 'Thickness', hint: 'At the root, as a share of the card’s width.' },
      { as: 'number', name: 'taper', label: 'Taper', hint: 'How much thinner the tip is.' },
      { as: 'number', name: 'least', label: 'At least', hint: 'Thinner strands are drawn this thick, and fewer of them: they cover as much and hold farther away.' },
      { as: 'number', name: 'shorter', label: 'Shorter by up to', hint: 'How much shorter a strand may be.' },
    ]),
    group('strands', 'Clumps and waves', [
      { as: 'number', name: 'clumps', label: 'Clumps', hint: 'How many there are.' },
      { as: 'number', name: 'clumping', label: 'Clumping', hint: 'How far strands come together towards the tip.' },
      { as: 'number', name: 'innerClumps', label: 'Inner clumps', hint: 'How many smaller clumps each clump has.' },
      { as: 'number', name: 'innerClumping', label: 'Inner clumping', hint: 'How far strands come together within a smaller clump.' },
      { as: 'number', name: 'wave', label: 'Wave', hint: 'How far a strand swings to either side.' },
      { as: 'number', name: 'waves', label: 'Waves', hint: 'Along a strand.' },
      { as: 'number', name: 'flyaways', label: 'Flyaways', hint: 'Share of strands that leave the others.' },
      { as: 'number', name: 'astray', label: 'Flyaway distance', hint: 'How far flyaways stray from the others.', when: ({ flyaways }) => flyaways > 0 },
    ]),
    group('strands', 'Colour', [
      { as: 'colour', name: 'colour', label: 'Root' },
      { as: 'colour', name: 'tipColour', label: 'Tip' },
      { as: 'colour', name: 'otherColour', label: 'Other colour' },
      ...SWING,
    ]),
  ],
  weave: [
    group('weave', 'Pattern', [
      { as: 'choice', name: 'pattern', label: 'Pattern', options: WEAVE_PATTERNS, list: true },
      { as: 'number', name: 'across', label: 'Card, across', hint: 'Width of the card that all other measures are seen against.' },
      { as: 'number', name: 'pitch', label: 'Pitch', hint: 'From the middle of one to the middle of the next.' },
      { as: 'number', name: 'thick', label: 'Thickness', hint: 'Of a thread, rod or plank; of a hole its width.' },
      { as: 'number', name: 'long', label: 'Length', hint: 'Of a knot or a slot; of wattle how thick its posts are; of lace how wide its eyes are.', when: ({ pattern }) => /net|slots|wattle|lace/.test(pattern) },
      { as: 'toggle', name: 'seamless', label: 'Repeats without a seam' },
      { as: 'number', name: 'sag', label: 'Sag', hint: 'How far the middle hangs below the sides, as a chain would.', when: ({ seamless }) => !seamless },
    ]),
    group('weave', 'Wear', [
      { as: 'number', name: 'uneven', label: 'Uneven', hint: 'How far places and thicknesses are off.' },
      { as: 'number', name: 'torn', label: 'Torn', hint: 'Share of threads, rods or planks that are broken.', when: ({ pattern }) => isWoven(pattern) || /wattle|planks|slats|lattice/.test(pattern) },
      { as: 'number', name: 'holes', label: 'Torn holes', hint: 'How many there are.', when: ({ pattern }) => /cloth/.test(pattern) },
      { as: 'number', name: 'holeSize', label: 'Hole width', hint: 'On average; some are smaller, some larger.', when: ({ pattern, holes = 0 }) => /cloth/.test(pattern) && holes > 0 },
      { as: 'number', name: 'fray', label: 'Frayed hem', hint: 'Share of the card’s height that the lower hem is frayed to.', when: ({ pattern, seamless }) => /cloth/.test(pattern) && !seamless },
      { as: 'colour', name: 'weather', label: 'Rust or moss' },
      { as: 'number', name: 'weathered', label: 'Weathering', hint: 'How strong rust or moss is at the foot.' },
      { as: 'number', name: 'weatherTo', label: 'Weathering height', hint: 'Share of the card’s height that it creeps up to.' },
    ]),
    group('weave', 'Colour', [
      { as: 'colour', name: 'colour', label: 'Colour' },
      { as: 'colour', name: 'otherColour', label: 'Other colour' },
      ...SWING,
    ]),
  ],
  atlas: [
    group('atlas', 'Packing', [
      { as: 'choice', name: 'turning', label: 'Turned by', options: ATLAS_TURNINGS, list: true },
      { as: 'number', name: 'gutter', label: 'Gutter', hint: 'Between any two parts; half of it to the border.' },
      { as: 'toggle', name: 'levelled', label: 'Same texels per metre' },
    ]),
  ],
}; // prettier-ignore
