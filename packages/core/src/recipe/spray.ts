import { oklabFromBytes, type Oklab } from '../colour/oklab.ts';
import type { Rgb } from '../colour/srgb.ts';
import { angleOf, cosine, sine } from '../math/trigonometry.ts';
import { chance } from '../math/chance.ts';
import { bladeProfile, HALF_ROUND, type Profile } from './profile.ts';
import type { RecipeKind } from './kind.ts';
import { enlargedTo, MOST_PARTS } from './part.ts';
import { Scene, type LinePoint } from './scene.ts';
import type { Stamp } from './stamp.ts';
import { SWING_DEFAULTS, SWING_RANGES, alongOf, drifted, mixed, tintsOf, towards, type TintSwing } from './tints.ts';

export const LEAF_ORDERS = ['alternate', 'opposite', 'whorled', 'spiral'] as const;
export type LeafOrder = (typeof LEAF_ORDERS)[number];
export const LEAF_SHAPES = ['leaf', 'needle', 'bead'] as const;
export type LeafShape = (typeof LEAF_SHAPES)[number];
export const LEAF_OVERLAPS = ['tip in front', 'root in front', 'by depth'] as const;
export type LeafOverlap = (typeof LEAF_OVERLAPS)[number];

export interface SprayParams extends TintSwing {
  /** Both ends of the stem, shares of the card from its top left, and how far it bends between, degrees. */
  rootX: number;
  rootY: number;
  tipX: number;
  tipY: number;
  bend: number;
  /** Width of the stem at its root, as a share of the card's width. */
  stem: number;
  order: LeafOrder;
  /** Leaves of a whorl. */
  perWhorl: number;
  /** Places along the stem where leaves stand, and the share of it that is bare below them. */
  places: number;
  bare: number;
  shape: LeafShape;
  /** Length of a leaf, as a share of the card's width; its width over its length; what the last one is of the first. */
  leafLength: number;
  slim: number;
  atTip: number;
  point: number;
  /** Between leaf and stem, degrees; and how far it may be off. */
  angle: number;
  angleSpread: number;
  /** How far leaves hang down, and how far they turn up to the light. */
  droop: number;
  toLight: number;
  sizeSpread: number;
  overlap: LeafOverlap;
  fold: number;
  midrib: number;
  /** Share of leaves that are missing, and that are torn or eaten. */
  gaps: number;
  damaged: number;
  branches: number;
  branchAngle: number;
  branchLength: number;
  colour: Rgb;
  otherColour: Rgb;
  stemColour: Rgb;
}

/** H. Vogel, "A better way to construct the sunflower head" (1979): between leaves that follow each other. */
export const GOLDEN_ANGLE = 137.50776405003785;

const DRAWS_EACH = 16;
const LEAF_POINTS = 12;
const STEM_POINTS = 24;

/** Where the k-th leaf of a place stands around the stem, degrees: 90 is to the right, 0 towards the viewer. */
export function aroundStem(order: LeafOrder, place: number, k: number, perWhorl: number): number {
  if (order === 'alternate') return place % 2 === 0 ? 90 : 270;
  if (order === 'opposite') return k === 0 ? 90 : 270;
  if (order === 'whorled') return (360 * (k + (place % 2) / 2)) / perWhorl + 90;
  return place * GOLDEN_ANGLE + 90;
}

export const leavesAPlace = (order: LeafOrder, perWhorl: number): number =>
  order === 'opposite' ? 2 : order === 'whorled' ? perWhorl : 1;

interface Stem {
  x: number;
  y: number;
  length: number;
  /** Its direction at the root, degrees from straight up, and how far it turns to its tip. */
  lean: number;
  bend: number;
  half: number;
  number: number;
}

export const spray: RecipeKind<SprayParams> = {
  label: 'Spray',
  hint: 'Leaves, needles or beads along a stem or a branching twig.',
  version: 1,
  defaults: {
    rootX: 0.5,
    rootY: 0.98,
    tipX: 0.5,
    tipY: 0.14,
    bend: 24,
    stem: 0.018,
    order: 'alternate',
    perWhorl: 4,
    places: 14,
    bare: 0.14,
    shape: 'leaf',
    leafLength: 0.3,
    slim: 0.36,
    atTip: 0.45,
    point: 0.6,
    angle: 52,
    angleSpread: 10,
    droop: 14,
    toLight: 0,
    sizeSpread: 0.18,
    overlap: 'tip in front',
    fold: 0.3,
    midrib: 0.25,
    gaps: 0.04,
    damaged: 0.08,
    branches: 0,
    branchAngle: 42,
    branchLength: 0.5,
    colour: [92, 124, 60],
    otherColour: [168, 164, 84],
    stemColour: [124, 96, 62],
    ...SWING_DEFAULTS,
  },
  ranges: {
    rootX: { min: -0.5, max: 1.5 },
    rootY: { min: -0.5, max: 1.5 },
    tipX: { min: -0.5, max: 1.5 },
    tipY: { min: -0.5, max: 1.5 },
    bend: { min: -170, max: 170, step: 1, digits: 0, unit: 'degrees' },
    stem: { min: 0.001, max: 0.1, digits: 3, logarithmic: true },
    perWhorl: { min: 2, max: 16, step: 1, digits: 0 },
    places: { min: 0, max: 200, step: 1, digits: 0 },
    bare: { min: 0, max: 0.95 },
    leafLength: { min: 0.005, max: 1, digits: 3, logarithmic: true },
    slim: { min: 0.01, max: 1.5, logarithmic: true },
    atTip: { min: 0.05, max: 2 },
    point: { min: 0, max: 1 },
    angle: { min: 0, max: 150, step: 1, digits: 0, unit: 'degrees' },
    angleSpread: { min: 0, max: 60, step: 1, digits: 0, unit: 'degrees' },
    droop: { min: -90, max: 90, step: 1, digits: 0, unit: 'degrees' },
    toLight: { min: 0, max: 1 },
    sizeSpread: { min: 0, max: 0.9 },
    fold: { min: 0, max: 1 },
    midrib: { min: 0, max: 1 },
    gaps: { min: 0, max: 1 },
    damaged: { min: 0, max: 1 },
    branches: { min: 0, max: 24, step: 1, digits: 0 },
    branchAngle: { min: 5, max: 120, step: 1, digits: 0, unit: 'degrees' },
    branchLength: { min: 0.05, max: 1 },
    ...SWING_RANGES,
  },
  ground: ({ colour, otherColour }) => mixed(oklabFromBytes(...colour), oklabFromBytes(...otherColour), 0.3),
  shapes: ({ branches, order, perWhorl, places }) =>
    (1 + branches) * (STEM_POINTS + places * leavesAPlace(order, perWhorl) * (LEAF_POINTS + 1)),
  mostParts: MOST_PARTS,
  enlarged: ({ leafLength, atTip }, parts, width) => enlargedTo(leafLength * Math.max(1, atTip) * width, parts),
  scene(params, seed, { ratio, stamps, meter }) {
    const scene = new Scene(meter);
    const profile = bladeProfile(params.fold, params.midrib);
    const main = mainStem(params, ratio);
    const twigs = [main, ...branchesOf(params, seed, main)];
    for (const twig of twigs) growStem(scene, twig, params, profile, seed, stamps);
    return scene;
  },
};

/** From its root to its tip: an arc, whose middle has the direction of the straight line between them. */
function mainStem({ rootX, rootY, tipX, tipY, bend, stem }: SprayParams, ratio: number): Stem {
  const [dx, dy] = [tipX - rootX, (tipY - rootY) * ratio];
  const straight = Math.sqrt(dx * dx + dy * dy);
  // an arc of b degrees is (b / 2) / sin (b / 2) times as long as its chord
  const half = (Math.abs(bend) / 2) * (3.141592653589793 / 180);
  const longer = half > 1e-6 ? half / sine(Math.abs(bend) / 2) : 1;
  return { x: rootX, y: rootY * ratio, length: straight * longer, lean: angleOf(dx, -dy) - bend / 2, bend, half: stem / 2, number: 0 }; // prettier-ignore
}

/** On both sides in turn, the longest in the lower middle. */
function branchesOf(params: SprayParams, seed: number, main: Stem): Stem[] {
  const { branches, branchAngle, branchLength, bare } = params;
  const spine = spineOf(main);
  return Array.from({ length: branches }, (_, k) => {
    const share = bare + (1 - bare) * ((k + 0.5) / branches) * 0.85;
    const side = k % 2 === 0 ? 1 : -1;
    const at = spine[Math.round(share * STEM_POINTS)];
    const draw = (what: number) => chance(seed ^ BRANCHES, k * DRAWS_EACH + what);
    return {
      x: at.x,
      y: at.y,
      length: main.length * branchLength * (1 - 0.6 * share) * (0.8 + 0.4 * draw(0)),
      lean: main.lean + main.bend * share + side * branchAngle * (0.8 + 0.4 * draw(1)),
      bend: -side * branchAngle * 0.4 * draw(2),
      half: main.half * (1 - 0.7 * share) * 0.6,
      number: k + 1,
    };
  });
}

const BRANCHES = 0x3c6ef372;

/** @returns STEM_POINTS + 1 places and the direction there, degrees. */
function spineOf({ x, y, length, lean, bend }: Stem): { x: number; y: number; way: number }[] {
  const out = [{ x, y, way: lean }];
  for (let k = 0; k < STEM_POINTS; k++) {
    const [dx, dy] = towards(lean + (bend * (k + 0.5)) / STEM_POINTS);
    const { x: px, y: py } = out[k];
    const step = length / STEM_POINTS;
    out.push({ x: px + dx * step, y: py + dy * step, way: lean + (bend * (k + 1)) / STEM_POINTS });
  }
  return out;
}

function growStem(
  scene: Scene,
  stem: Stem,
  params: SprayParams,
  profile: Profile,
  seed: number,
  stamps: readonly Stamp[],
): void {
  const spine = spineOf(stem);
  const bark = oklabFromBytes(...params.stemColour);
  const surface = {
    along: alongOf((s) => [bark[0] * (0.85 + 0.25 * s), bark[1], bark[2]]),
    profile: HALF_ROUND,
    translucency: 0.05,
    relief: 0.2,
    id: 1 + ((37 * stem.number) % 255),
  };
  const points = spine.map((p, k): LinePoint => {
    return { x: p.x, y: p.y, half: stem.half * (1 - (0.75 * k) / STEM_POINTS), lift: 0.35 };
  });
  scene.line(points, surface, 0.5 - 0.01 * stem.number);
  const { places, bare, order, perWhorl, gaps } = params;
  const each = leavesAPlace(order, perWhorl);
  const count = stem.number === 0 ? places : Math.ceil(places * params.branchLength);
  for (let place = 0; place < count; place++) {
    const share = count === 1 ? 1 : bare + ((1 - bare) * place) / (count - 1);
    const at = spine[Math.min(STEM_POINTS, Math.round(share * STEM_POINTS))];
    for (let k = 0; k < each; k++) {
      const leaf = (stem.number * 4096 + place) * each + k;
      const draw = (what: number) => chance(seed, leaf * DRAWS_EACH + what);
      if (draw(0) < gaps) continue;
      growLeaf(scene, { at, share, around: aroundStem(order, place, k, perWhorl), leaf, last: place + 1 === count, stamp: stamps[Math.floor(stamps.length * draw(11))] }, params, profile, draw); // prettier-ignore
    }
  }
}

interface Leaf {
  at: { x: number; y: number; way: number };
  /** Share of its stem. */
  share: number;
  around: number;
  leaf: number;
  last: boolean;
  /** The part that stands in for it. */
  stamp: Stamp | undefined;
}

function growLeaf(
  scene: Scene,
  { at, share, around, leaf, last, stamp }: Leaf,
  params: SprayParams,
  profile: Profile,
  draw: (what: number) => number,
): void {
  const { angle, angleSpread, droop, toLight, atTip, sizeSpread, slim, shape, point, overlap, damaged } = params;
  // the last one of an alternate or a spiral order goes on along the stem
  const open = last && params.order !== 'opposite' && params.order !== 'whorled' ? 0 : angle;
  const off = open + angleSpread * (2 * draw(1) - 1);
  const side = sine(off) * sine(around);
  const ahead = cosine(off);
  // what points to the viewer or away from it looks shorter
  const seen = Math.max(0.25, Math.sqrt(side * side + ahead * ahead));
  const size = params.leafLength * (1 + (atTip - 1) * share) * (1 - sizeSpread * draw(2));
  const way = at.way + angleOf(side, ahead) - (side < 0 ? 360 : 0);
  const upright = way - 360 * Math.floor((way + 180) / 360); // −180 … 180 from straight up
  const lit = upright * (1 - toLight);
  const hang = (upright >= 0 ? 1 : -1) * droop;
  const torn = draw(3) < damaged;
  const until = torn && draw(4) < 0.5 ? 0.5 + 0.4 * draw(5) : 1;
  const bite = torn && until === 1 ? 0.25 + 0.5 * draw(6) : -1;
  const half = stamp ? (size * stamp.width) / (2 * stamp.height) : (size * slim * (shape === 'needle' ? 0.3 : 1)) / 2;
  const points: LinePoint[] = [];
  let [x, y] = [at.x, at.y];
  const length = size * seen * until;
  for (let k = 0; k <= LEAF_POINTS; k++) {
    const s = (until * k) / LEAF_POINTS;
    const eaten = bite < 0 ? 1 : 1 - 0.6 * Math.max(0, 1 - Math.abs(s - bite) / 0.09);
    points.push({ x, y, half: stamp ? half : half * widthAt(s, shape, point) * eaten, lift: 0.4 + 0.3 * s });
    const [dx, dy] = towards(lit + hang * (s + 0.5 / LEAF_POINTS));
    x += (dx * length) / LEAF_POINTS;
    y += (dy * length) / LEAF_POINTS;
  }
  const tip = drifted(params.colour, params.otherColour, params, [draw(7), draw(8), draw(9)]);
  const shaded: Oklab = [tip[0] - 0.06 * Math.max(0, -cosine(around)), tip[1], tip[2]];
  const colourAt = (s: number): Oklab => [shaded[0] * (0.86 + 0.14 * s), shaded[1], shaded[2]];
  const surface = {
    along: stamp ? tintsOf(params.colour, colourAt) : alongOf(colourAt),
    stamp,
    profile: shape === 'bead' ? HALF_ROUND : profile,
    translucency: shape === 'leaf' ? 0.7 : 0.3,
    relief: 0.12,
    id: 1 + Math.floor(255 * chance(leaf, 77)),
  };
  const depth = overlap === 'by depth' ? cosine(around) : overlap === 'tip in front' ? share : 1 - share;
  scene.line(points, surface, 1 + depth + 1e-4 * draw(10));
}

/** Share of its widest: a stalk, then swelling and closing to a point. */
function widthAt(s: number, shape: LeafShape, point: number): number {
  if (shape === 'needle') return Math.sqrt(Math.min(1, s * 12)) * Math.sqrt(Math.min(1, (1 - s) * 5));
  if (shape === 'bead') return Math.sqrt(Math.max(0, 1 - (2 * s - 1) * (2 * s - 1)));
  if (s < 0.08) return 0.06;
  const t = (s - 0.08) / 0.92;
  const widest = 0.42 - 0.12 * point;
  if (t < widest) return 0.06 + 0.94 * sine((90 * t) / widest);
  const rest = (1 - t) / (1 - widest);
  return (1 - point) * Math.sqrt(rest * (2 - rest)) + point * rest * (0.6 + 0.4 * sine(90 * rest));
}
