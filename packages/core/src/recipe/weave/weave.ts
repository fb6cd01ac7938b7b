import { mixed, SWING_DEFAULTS, SWING_RANGES } from '../tints.ts';
import { oklabFromBytes } from '../../colour/oklab.ts';
import type { RecipeKind } from '../kind.ts';
import { Scene } from '../scene.ts';
import { Loom, type LoomParams } from './loom.ts';
import { crossed } from './crossed.ts';
import { laces } from './lace.ts';
import { nets } from './nets.ts';
import { rods } from './rods.ts';
import { sheets } from './sheets.ts';

/** Patterns by how they are made. */
const MAKERS = { ...nets, ...crossed, ...laces, ...rods, ...sheets };
export const WEAVE_PATTERNS = Object.keys(MAKERS) as (keyof typeof MAKERS)[];
export type WeavePattern = (typeof WEAVE_PATTERNS)[number];

export interface WeaveParams extends LoomParams {
  pattern: WeavePattern;
}

export const weave: RecipeKind<WeaveParams> = {
  label: 'Weave',
  hint: 'Nets, wire, lattice, wattle, planks, cloth and perforated sheet, measured in millimetres.',
  version: 2,
  better: 'A lattice that repeats goes on across its borders on cards that are not square.',
  optional: ['holes', 'holeSize', 'fray'],
  defaults: {
    pattern: 'diamond net',
    across: 1000,
    pitch: 60,
    thick: 5,
    long: 14,
    uneven: 0.15,
    sag: 0,
    seamless: false,
    torn: 0,
    colour: [140, 122, 88],
    otherColour: [186, 168, 124],
    ...SWING_DEFAULTS,
    weather: [92, 96, 58],
    weatherTo: 0.4,
    weathered: 0.35,
  },
  ranges: {
    across: { min: 10, max: 20000, unit: 'mm', logarithmic: true, digits: 0 },
    pitch: { min: 0.5, max: 2000, unit: 'mm', logarithmic: true, digits: 1 },
    thick: { min: 0.05, max: 1000, unit: 'mm', logarithmic: true, digits: 2 },
    long: { min: 0.1, max: 2000, unit: 'mm', logarithmic: true, digits: 1 },
    uneven: { min: 0, max: 1 },
    sag: { min: 0, max: 0.5 },
    torn: { min: 0, max: 1 },
    holes: { min: 0, max: 60, step: 1, digits: 0 },
    holeSize: { min: 1, max: 5000, unit: 'mm', logarithmic: true, digits: 0 },
    fray: { min: 0, max: 0.6 },
    ...SWING_RANGES,
    weatherTo: { min: 0, max: 1 },
    weathered: { min: 0, max: 1 },
  },
  ground: ({ colour, otherColour }) => mixed(oklabFromBytes(...colour), oklabFromBytes(...otherColour), 0.3),
  scene(params, seed, { ratio, version, meter }) {
    const scene = new Scene(meter);
    MAKERS[params.pattern](new Loom(scene, params, seed, ratio, version));
    return scene;
  },
  shapes({ pattern, across, pitch, thick, seamless }, ratio) {
    const copies = seamless ? (1 + thick / across) * (1 + thick / (across * ratio)) : 1;
    const [columns, rows] = [across / pitch + 2, (across * ratio) / (pattern === 'wattle' ? thick : pitch) + 2];
    const cells = pattern in rods && pattern !== 'wattle' ? columns + rows : columns * rows;
    return (SHAPES_A_CELL[pattern] ?? 14) * copies * cells;
  },
};

/** Shapes of a square of the pitch, or of a plank; a sheet's holes have more corners, and count for as many more. */
const SHAPES_A_CELL: Partial<Record<WeavePattern, number>> = { lace: 190, 'hexagonal net': 26 };
