import { mixed } from '../tints.ts';
import { oklabFromBytes } from '../../colour/oklab.ts';
import type { Rgb } from '../../colour/srgb.ts';
import type { RecipeKind } from '../recipe.ts';
import { Scene } from '../scene.ts';
import { Loom } from './loom.ts';
import { crossed } from './crossed.ts';
import { nets } from './nets.ts';
import { rods } from './rods.ts';
import { sheets } from './sheets.ts';

/** Patterns by how they are made. */
const MAKERS = { ...nets, ...crossed, ...rods, ...sheets };
export const WEAVE_PATTERNS = Object.keys(MAKERS) as (keyof typeof MAKERS)[];
export type WeavePattern = (typeof WEAVE_PATTERNS)[number];

export interface WeaveParams {
  pattern: WeavePattern;
  /** Of the card, millimetres. */
  across: number;
  /** From the middle of one thread, plank or hole to that of the next, millimetres. */
  pitch: number;
  /** Of a thread, rod or plank, or how wide a hole is, millimetres. */
  thick: number;
  /** Of a slot, or a knot of a net, or the row of rods above each other; millimetres. */
  long: number;
  /** How uneven places and thicknesses are. */
  uneven: number;
  /** How far the middle of the card hangs below its sides, as a share of its width; framed ones alone. */
  sag: number;
  /** Whether the card repeats: pitches are rounded so that whole repeats fit. */
  seamless: boolean;
  /** Share of threads that are torn, or of planks that are broken. */
  torn: number;
  colour: Rgb;
  otherColour: Rgb;
  tint: number;
  lightness: number;
  richness: number;
  /** Rust, moss or dirt that creeps up from below: its colour, how far up, and how much. */
  weather: Rgb;
  weatherTo: number;
  weathered: number;
}

export const weave: RecipeKind<WeaveParams> = {
  label: 'Weave',
  hint: 'Nets, wire, lattice, wattle, planks, cloth and perforated sheet, measured in millimetres.',
  version: 1,
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
    tint: 1 / 3,
    lightness: 0.07,
    richness: 0.15,
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
    tint: { min: 0, max: 1 },
    lightness: { min: 0, max: 0.5 },
    richness: { min: 0, max: 1 },
    weatherTo: { min: 0, max: 1 },
    weathered: { min: 0, max: 1 },
  },
  ground: ({ colour, otherColour }) => mixed(oklabFromBytes(...colour), oklabFromBytes(...otherColour), 0.3),
  scene(params, seed, { ratio }) {
    const scene = new Scene();
    MAKERS[params.pattern](new Loom(scene, params, seed, ratio));
    return scene;
  },
};
