import { oklabFromBytes, type Oklab } from '../colour/oklab.ts';
import type { Rgb } from '../colour/srgb.ts';
import { curveAt } from '../math/curve.ts';
import { chance } from '../math/chance.ts';
import { bladeProfile, type Profile } from './profile.ts';
import type { RecipeKind, RecipeFrame } from './kind.ts';
import { enlargedTo, MOST_PARTS } from './part.ts';
import { spacingFor, strewn } from './roots.ts';
import { Scene, type LinePoint } from './scene.ts';
import { SWING_DEFAULTS, SWING_RANGES, alongOf, drifted, mixed, tintsOf, towards, type TintSwing } from './tints.ts';

export const TUFT_STREWINGS = ['along a line', 'over an area'] as const;
export type TuftStrewing = (typeof TUFT_STREWINGS)[number];

/** A blade that is kept as it is, whatever seed the others grow from. Places are shares of the card, y down. */
export interface PinnedBlade {
  blade: number;
  seed: number;
  x: number;
  y: number;
  /** Degrees clockwise on top of its own lean. */
  turn: number;
  /** Share of its own length. */
  stretch: number;
  /** In front of all others, or behind them; without it at its own depth. */
  order?: 'front' | 'back' | undefined;
}

export interface TuftParams extends TintSwing {
  blades: number;
  strewing: TuftStrewing;
  /** Root line, shares of the card from its top left; of an area the lower edge. */
  fromX: number;
  fromY: number;
  toX: number;
  toY: number;
  /** Height of the area that roots are strewn over, as a share of the card's. */
  area: number;
  /** Length of blades that root at each of these places, evenly along the root line from left to right (version 1: over the card's width), as
   * shares of the card's height. */
  envelope: number[];
  /** How much shorter than that a blade may be. */
  shorter: number;
  /** Outward lean of blades at the ends of the root line, degrees. */
  lean: number;
  /** Random lean to either side, degrees. */
  leanSpread: number;
  /** Least and largest bend from root to tip, degrees. */
  bendFrom: number;
  bendTo: number;
  /** Share of blades that lean and bend the other way. */
  mirrored: number;
  /** Widest place of a blade, as a share of the card's width, and how much slimmer one may be. */
  bladeWidth: number;
  slimmer: number;
  /** 0 blunt, 1 a needle. */
  point: number;
  /** Height of the edges over the middle, in half widths. */
  fold: number;
  midrib: number;
  /** Share of blades whose tip is torn off. */
  torn: number;
  /** How far roots are drawn towards clumps, and how many clumps there are. */
  clumping: number;
  clumps: number;
  /** Colours between which blades differ. */
  colour: Rgb;
  otherColour: Rgb;
  /** How much darker the root is than the tip. */
  rootDark: number;
  pinned: PinnedBlade[];
}

export const MOST_BLADES = 2000;
const SEGMENTS = 20;
const DRAFT_SEGMENTS = 10;

/** Random numbers of a blade, in this order: a later version adds at the end. */
const DRAWS = {
  place: 0,
  length: 1,
  lean: 2,
  bend: 3,
  mirrored: 4,
  width: 5,
  torn: 6,
  tint: 7,
  light: 8,
  rich: 9,
  order: 10,
  down: 11,
  tear: 12,
} as const;
const DRAWS_EACH = 16;

const drawOf = (seed: number, blade: number, what: keyof typeof DRAWS) =>
  chance(seed, blade * DRAWS_EACH + DRAWS[what]);

export const tuft: RecipeKind<TuftParams> = {
  label: 'Tuft',
  hint: 'Blades of grass or reed along a root line, tallest where you want them.',
  version: 2,
  better: 'Heights belong to places along the root line: before, some lay beyond it and did nothing.',
  upgraded(params) {
    const heightAt = heightOver(params, 1);
    const { left, right } = rootSpan(params);
    const last = params.envelope.length - 1;
    const along = params.envelope.map((_, k) => heightAt(left + ((right - left) * k) / Math.max(1, last)));
    return { ...params, envelope: along.map((v) => Math.round(Math.max(0, v) * 1000) / 1000) };
  },
  defaults: {
    blades: 140,
    strewing: 'along a line',
    fromX: 0.3,
    fromY: 1,
    toX: 0.7,
    toY: 1,
    area: 0.06,
    // tallest in the middle, falling towards both sides (common practice)
    envelope: [0.81, 0.88, 0.93, 0.95, 0.93, 0.88, 0.81],
    shorter: 0.45,
    lean: 16,
    leanSpread: 7,
    bendFrom: 5,
    bendTo: 60,
    mirrored: 0.25,
    bladeWidth: 0.014,
    slimmer: 0.5,
    point: 0.7,
    fold: 0.35,
    midrib: 0.18,
    torn: 0.06,
    clumping: 0.3,
    clumps: 7,
    colour: [98, 116, 52],
    otherColour: [178, 168, 92],
    ...SWING_DEFAULTS,
    rootDark: 0.45,
    pinned: [],
  },
  ranges: {
    blades: { min: 0, max: MOST_BLADES, step: 1, digits: 0, logarithmic: false },
    fromX: { min: -0.5, max: 1.5 },
    fromY: { min: -0.5, max: 1.5 },
    toX: { min: -0.5, max: 1.5 },
    toY: { min: -0.5, max: 1.5 },
    area: { min: 0, max: 1 },
    shorter: { min: 0, max: 1 },
    lean: { min: -80, max: 80, step: 1, digits: 0, unit: 'degrees' },
    leanSpread: { min: 0, max: 80, step: 1, digits: 0, unit: 'degrees' },
    bendFrom: { min: 0, max: 180, step: 1, digits: 0, unit: 'degrees' },
    bendTo: { min: 0, max: 180, step: 1, digits: 0, unit: 'degrees' },
    mirrored: { min: 0, max: 1 },
    bladeWidth: { min: 0.001, max: 0.2, digits: 3, logarithmic: true },
    slimmer: { min: 0, max: 0.95 },
    point: { min: 0, max: 1 },
    fold: { min: 0, max: 1 },
    midrib: { min: 0, max: 1 },
    torn: { min: 0, max: 1 },
    clumping: { min: 0, max: 1 },
    clumps: { min: 1, max: 60, step: 1, digits: 0 },
    ...SWING_RANGES,
    rootDark: { min: 0, max: 1 },
  },
  ground: ({ colour, otherColour }) => mixed(oklabFromBytes(...colour), oklabFromBytes(...otherColour), 0.3),
  scene(params, seed, frame) {
    const scene = new Scene(frame.meter);
    const profile = bladeProfile(params.fold, params.midrib);
    for (const blade of bladesOf(params, seed, frame)) growBlade(scene, blade, params, profile, frame);
    return scene;
  },
  shapes: ({ blades }) => blades * SEGMENTS,
  mostParts: MOST_PARTS,
  enlarged: ({ envelope }, parts, width, ratio) => enlargedTo(Math.max(0, ...envelope) * ratio * width, parts),
};

/** A blade with its random numbers: lengths and places in widths of the card. */
export interface Blade {
  index: number;
  seed: number;
  x: number;
  y: number;
  length: number;
  lean: number;
  bend: number;
  half: number;
  torn: boolean;
  order?: PinnedBlade['order'];
}

/** Every blade of a tuft, pinned ones as they are kept. */
export function bladesOf(
  params: TuftParams,
  seed: number,
  { ratio, version }: Pick<RecipeFrame, 'ratio' | 'version'>,
): Blade[] {
  const pinned = new Map(params.pinned.map((p) => [p.blade, p]));
  const roots = rootsOf(params, seed, ratio);
  const heightAt = heightOver(params, version);
  return Array.from({ length: Math.min(params.blades, roots.length) }, (_, index) => {
    const pin = pinned.get(index);
    const root = roots[index];
    return bladeOf(params, index, pin?.seed ?? seed, root, heightAt(root.x) * ratio, pin);
  });
}

/** Those that are pinned alone, without the roots of all others. */
export function pinnedBlades(params: TuftParams, { ratio, version }: Pick<RecipeFrame, 'ratio' | 'version'>): Blade[] {
  const heightAt = heightOver(params, version);
  return params.pinned
    .filter((pin) => pin.blade < params.blades) // fewer blades than there were: pins wait for theirs
    .map((pin) => {
      const root = { x: pin.x, y: pin.y * ratio };
      return bladeOf(params, pin.blade, pin.seed, root, heightAt(root.x) * ratio, pin);
    });
}

/** Along the line the root of a blade keeps to its own part of it, so that none lie far apart. */
function rootsOf(params: TuftParams, seed: number, ratio: number): { x: number; y: number }[] {
  const { blades, strewing, fromX, fromY, toX, toY, area } = params;
  const present = params.pinned.filter((p) => p.blade < blades); // fewer blades than there were: pins wait for theirs
  const pins = new Map(present.map((p) => [p.blade, { x: p.x, y: p.y * ratio }]));
  const long = Math.abs(toX - fromX);
  const deep = area * ratio;
  const onLine = (share: number) => ({ x: fromX + (toX - fromX) * share, y: (fromY + (toY - fromY) * share) * ratio });
  if (strewing === 'along a line' || long === 0 || deep === 0) {
    const order = shuffled(blades, seed);
    return Array.from({ length: blades }, (_, k) => {
      const share = (order[k] + drawOf(seed, k, 'place')) / Math.max(1, blades);
      return pins.get(k) ?? onLine(clumped(share, params, seed));
    });
  }
  const left = Math.min(fromX, toX);
  // inside the area: x along the line, y up from it
  const fixed = [...pins.values()].map((p) => ({ x: p.x - left, y: onLine((p.x - fromX) / (toX - fromX)).y - p.y }));
  const free = strewn(long, deep, spacingFor(blades, long, deep), seed, blades - pins.size, fixed);
  let used = 0;
  const out: { x: number; y: number }[] = [];
  for (let k = 0; k < blades; k++) {
    const pin = pins.get(k);
    if (pin) out.push(pin);
    else if (used < free.length) {
      const p = free[used++];
      const share = (left + p.x - fromX) / (toX - fromX);
      out.push({ x: left + p.x, y: onLine(share).y - p.y });
    } else break;
  }
  return out;
}

function shuffled(count: number, seed: number): Int32Array {
  const order = Int32Array.from({ length: count }, (_, k) => k);
  for (let k = count - 1; k > 0; k--) {
    const other = Math.floor(drawOf(seed, k, 'order') * (k + 1));
    [order[k], order[other]] = [order[other], order[k]];
  }
  return order;
}

/** Drawn towards the middle of its clump. */
function clumped(share: number, { clumping, clumps }: TuftParams, seed: number): number {
  const clump = Math.floor(share * clumps);
  const middle = (clump + 0.25 + 0.5 * chance(seed ^ CLUMPS, clump)) / clumps;
  return share + clumping * (middle - share);
}

const CLUMPS = 0x5bd1e995;

/** Between which shares of the card's width blades root. */
export function rootSpan({ fromX, toX }: TuftParams): { left: number; right: number } {
  return { left: Math.min(fromX, toX), right: Math.max(fromX, toX) };
}

/** Heights, shares of the card's height, over places, shares of its width. */
function heightOver(params: TuftParams, version: number): (x: number) => number {
  const { envelope } = params;
  const { left, right } = version < 2 ? { left: 0, right: 1 } : rootSpan(params);
  if (envelope.length === 1) return () => envelope[0];
  const places = envelope.map((v, k): [number, number] => [k / (envelope.length - 1), v]);
  const long = right - left;
  return (x) => curveAt(places, long > 0 ? (x - left) / long : 0.5);
}

function bladeOf(
  params: TuftParams,
  index: number,
  seed: number,
  root: { x: number; y: number },
  most: number,
  pin: PinnedBlade | undefined,
): Blade {
  const draw = (what: keyof typeof DRAWS) => drawOf(seed, index, what);
  const { fromX, toX } = params;
  const torn = draw('torn') < params.torn;
  const tear = torn ? 0.45 + 0.4 * draw('tear') : 1;
  const middle = (fromX + toX) / 2;
  const outward = toX === fromX ? 0 : Math.max(-1, Math.min(1, (root.x - middle) / (Math.abs(toX - fromX) / 2)));
  const other = draw('mirrored') < params.mirrored ? -1 : 1;
  const way = (root.x < middle ? -1 : 1) * other;
  const lean = params.lean * outward * other + params.leanSpread * (2 * draw('lean') - 1);
  const bend = way * (params.bendFrom + (params.bendTo - params.bendFrom) * draw('bend'));
  return {
    index,
    seed,
    ...root,
    length: Math.max(0, most) * (1 - params.shorter * draw('length')) * tear * (pin?.stretch ?? 1),
    lean: lean + (pin?.turn ?? 0),
    bend,
    half: (params.bladeWidth / 2) * (1 - params.slimmer * draw('width')),
    torn,
    ...(pin?.order && { order: pin.order }),
  };
}

/** The middle line of a blade: its direction turns from the lean on, slowly first. */
export function spineOf({ x, y, length, lean, bend }: Blade, segments = SEGMENTS): { x: number; y: number }[] {
  const out = [{ x, y }];
  for (let k = 0; k < segments; k++) {
    const s = (k + 0.5) / segments;
    const [dx, dy] = towards(lean + bend * s * Math.sqrt(s));
    const last = out[k];
    out.push({ x: last.x + (dx * length) / segments, y: last.y + (dy * length) / segments });
  }
  return out;
}

function growBlade(
  scene: Scene,
  blade: Blade,
  params: TuftParams,
  profile: Profile,
  { stamps, draft }: RecipeFrame,
): void {
  const stamp = stamps[Math.floor(stamps.length * chance(blade.seed ^ CLUMPS, 104729 + blade.index))];
  // a part is as slim as its picture, or slimmer
  const partHalf = stamp && (blade.length * stamp.width * (blade.half / (params.bladeWidth / 2))) / (2 * stamp.height);
  const draw = (what: keyof typeof DRAWS) => drawOf(blade.seed, blade.index, what);
  const depth = blade.order ? (blade.order === 'front' ? 1 : 0) : draw('down');
  const tip = drifted(params.colour, params.otherColour, params, [draw('tint'), draw('light'), draw('rich')]);
  const back = tip[0] * 0.12 * (1 - depth); // what stands behind is in the shadow of the others
  const root: Oklab = [tip[0] * (1 - params.rootDark), tip[1] * 0.7, tip[2] * 0.7];
  const segments = draft ? DRAFT_SEGMENTS : SEGMENTS;
  const points = spineOf(blade, segments).map((p, k): LinePoint => {
    const s = k / segments;
    const half = partHalf ?? blade.half * widthAt(s, params.point, blade.torn);
    return { x: p.x, y: p.y, half, lift: 0.15 + 0.7 * depth * s };
  });
  const colourAt = (s: number): Oklab => {
    const [L, a, b] = mixed(root, tip, Math.min(1, s * 1.6));
    return [L - back, a, b];
  };
  const surface = {
    along: stamp ? tintsOf(params.colour, colourAt) : alongOf(colourAt),
    stamp,
    profile,
    translucency: 0.75,
    relief: 0.1,
    id: 1 + Math.floor(255 * chance(blade.seed ^ CLUMPS, 7919 + blade.index)),
  };
  scene.line(points, surface, blade.order === 'back' ? -1 : depth);
}

/** Width at a place of a blade, of its widest: narrow at the root, to a point at the tip, blunt where it is torn. */
function widthAt(s: number, point: number, torn: boolean): number {
  const root = 0.55 + 0.45 * Math.min(1, s * 4);
  if (torn) return root;
  const rest = 1 - s;
  const blunt = Math.sqrt(Math.min(1, rest * 6));
  return root * (point * rest * (2 - rest) + (1 - point) * blunt);
}
