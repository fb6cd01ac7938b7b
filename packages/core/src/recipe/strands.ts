import { oklabFromBytes } from '../colour/oklab.ts';
import type { Rgb } from '../colour/srgb.ts';
import { sine } from '../math/trigonometry.ts';
import { chance } from '../math/chance.ts';
import { HALF_ROUND } from './profile.ts';
import type { RecipeKind } from './kind.ts';
import { Scene, type LinePoint } from './scene.ts';
import { SWING_RANGES, alongOf, drifted, mixed, type TintSwing } from './tints.ts';

/** A strand that others follow: its root, two places between, its tip; shares of the card from its top left. */
export type Guide = [x0: number, y0: number, x1: number, y1: number, x2: number, y2: number, x3: number, y3: number];

export interface StrandsParams extends TintSwing {
  /** From one side to the other; strands grow between each two. */
  guides: Guide[];
  strands: number;
  /** Width of a strand at its root, as a share of the card's width, and what is left of it at the tip. */
  thick: number;
  taper: number;
  /** Thinnest that a strand is drawn, texels of the full size: thinner ones are fewer instead, and cover as much. */
  least: number;
  /** Clumps, how far strands are drawn to theirs at the tip, and the same of clumps within each. */
  clumps: number;
  clumping: number;
  innerClumps: number;
  innerClumping: number;
  /** How much shorter a strand may be. */
  shorter: number;
  /** Swing to either side as a share of the card's width, and how many along a strand. */
  wave: number;
  waves: number;
  /** Share of strands that leave the others, and how far. */
  flyaways: number;
  astray: number;
  colour: Rgb;
  tipColour: Rgb;
  otherColour: Rgb;
}

export const MOST_STRANDS = 6000;
export const MOST_GUIDES = 24;
const SEGMENTS = 22;
const DRAFT_SEGMENTS = 9;
const DRAFT_STRANDS = 1000;
const DRAWS_EACH = 16;
/** Strands whose tips are thinner than so many texels are drawn finer, up to so many times, and texels in all. */
const THIN = 3;
const MOST_FINER = 8;
const FINE_TEXELS = 2048 * 2048;

export const strands: RecipeKind<StrandsParams> = {
  label: 'Strands',
  hint: 'Hair, fringe, feather or rope ends between guide strands that are drawn on the Sheet.',
  version: 2,
  better:
    'Thin strands side by side cover as much at every size: before, small pictures of them were a little thinner.',
  defaults: {
    guides: [
      [0.1, 0.03, 0.1, 0.3, 0.13, 0.6, 0.2, 0.9],
      [0.37, 0.03, 0.36, 0.32, 0.4, 0.62, 0.37, 0.97],
      [0.63, 0.03, 0.64, 0.32, 0.6, 0.62, 0.64, 0.95],
      [0.9, 0.03, 0.9, 0.3, 0.87, 0.6, 0.8, 0.88],
    ],
    strands: 600,
    thick: 0.0035,
    taper: 0.8,
    least: 1,
    clumps: 9,
    clumping: 0.6,
    innerClumps: 5,
    innerClumping: 0.45,
    shorter: 0.3,
    wave: 0.006,
    waves: 2.5,
    flyaways: 0.05,
    astray: 0.05,
    colour: [74, 52, 34],
    tipColour: [168, 132, 88],
    otherColour: [112, 84, 58],
    tint: 0.6,
    lightness: 0.05,
    richness: 0.15,
  },
  ranges: {
    strands: { min: 0, max: MOST_STRANDS, step: 1, digits: 0 },
    thick: { min: 0.0002, max: 0.1, digits: 4, logarithmic: true },
    taper: { min: 0, max: 1 },
    least: { min: 0, max: 16, digits: 1, unit: 'texels' },
    clumps: { min: 1, max: 200, step: 1, digits: 0 },
    clumping: { min: 0, max: 1 },
    innerClumps: { min: 1, max: 40, step: 1, digits: 0 },
    innerClumping: { min: 0, max: 1 },
    shorter: { min: 0, max: 1 },
    wave: { min: 0, max: 0.1, digits: 3 },
    waves: { min: 0, max: 40, digits: 1 },
    flyaways: { min: 0, max: 1 },
    astray: { min: 0, max: 0.5 },
    ...SWING_RANGES,
  },
  ground: ({ colour, tipColour }) => mixed(oklabFromBytes(...colour), oklabFromBytes(...tipColour), 0.5),
  scene(params, seed, { ratio, width, draft, meter }) {
    const scene = new Scene(meter);
    if (params.guides.length === 0) return scene;
    const { count, thick } = drawnStrands(params, width);
    // of very many a draft draws some, thicker by as much: they cover the same
    const every = draft ? Math.ceil(count / DRAFT_STRANDS) : 1;
    for (let k = 0; k < count; k += every)
      growStrand(scene, k, count, (every * thick) / 2, params, seed, ratio, draft ? DRAFT_SEGMENTS : SEGMENTS);
    return scene;
  },
  shapes: ({ strands: wanted }) => wanted * SEGMENTS,
  finer({ thick, taper, strands: wanted, least }, { width, height }, version) {
    if (version < 2) return 1;
    const tip = drawnStrands({ thick, strands: wanted, least }, width).thick * (1 - taper) * width;
    let finer = 1;
    while (finer < MOST_FINER && tip * finer < THIN && 4 * finer * finer * width * height <= FINE_TEXELS) finer *= 2;
    return finer;
  },
};

/** How many strands are drawn and how thick: thinner than the least they are fewer and thicker, and cover the same. */
export function drawnStrands(
  { strands: wanted, thick, least }: Pick<StrandsParams, 'strands' | 'thick' | 'least'>,
  width: number,
): { count: number; thick: number } {
  const thinnest = least / width;
  if (thick >= thinnest || wanted === 0) return { count: wanted, thick };
  return { count: Math.max(1, Math.round((wanted * thick) / thinnest)), thick: thinnest };
}

/** A place of the cubic curve whose control points are those of a guide, at a share of the way between two guides. */
function between(guides: readonly Guide[], across: number, s: number): [x: number, y: number] {
  const at = across * (guides.length - 1);
  const k = Math.min(Math.max(0, guides.length - 2), Math.floor(at));
  const [a, b] = [guides[k], guides[Math.min(guides.length - 1, k + 1)]];
  const share = at - k;
  const r = 1 - s;
  const weights = [r * r * r, 3 * r * r * s, 3 * r * s * s, s * s * s];
  let [x, y] = [0, 0];
  for (let n = 0; n < 4; n++) {
    x += weights[n] * (a[2 * n] + (b[2 * n] - a[2 * n]) * share);
    y += weights[n] * (a[2 * n + 1] + (b[2 * n + 1] - a[2 * n + 1]) * share);
  }
  return [x, y];
}

const CLUMPS = 0x1b873593;

/** Where across the guides a clump has its middle. */
function middleOf(clump: number, count: number, seed: number): number {
  return (clump + 0.2 + 0.6 * chance(seed ^ CLUMPS, clump)) / count;
}

function growStrand(
  scene: Scene,
  index: number,
  count: number,
  half: number,
  params: StrandsParams,
  seed: number,
  ratio: number,
  segments: number,
): void {
  const { guides, clumps, clumping, innerClumps, innerClumping, shorter, wave, waves, flyaways, astray } = params;
  const draw = (what: number) => chance(seed, index * DRAWS_EACH + what);
  const own = (index + draw(0)) / count;
  const clump = Math.min(clumps - 1, Math.floor(own * clumps));
  const inner = Math.floor((own * clumps - clump) * innerClumps);
  const outerMiddle = middleOf(clump, clumps, seed);
  const innerMiddle = (clump + middleOf(inner, innerClumps, seed ^ (clump + 1))) / clumps;
  const flies = draw(1) < flyaways;
  const [awayX, awayY] = flies ? [astray * (2 * draw(2) - 1), astray * (2 * draw(3) - 1) * 0.5] : [0, 0];
  const length = 1 - shorter * draw(4) * draw(4);
  const phase = 360 * draw(5);
  const points = Array.from({ length: segments + 1 }, (_, k): LinePoint => {
    const s = (length * k) / segments;
    const loose = flies ? 0.3 : 1;
    const tight = innerClumping * loose * s;
    const tighter = clumping * loose * s * s;
    const mid = own + (innerMiddle - own) * tight;
    const [x, y] = between(guides, mid + (outerMiddle - mid) * tighter, s);
    const swing = wave * s * sine(phase + 360 * waves * s);
    const w = half * (1 - params.taper * (k / segments));
    return { x: x + swing + awayX * s * s, y: (y + awayY * s * s) * ratio, half: w, lift: 0.25 + 0.5 * draw(6) };
  });
  const swing = [draw(7), draw(8), draw(9)];
  const root = drifted(params.colour, params.otherColour, params, swing);
  const tip = drifted(params.tipColour, params.otherColour, { ...params, tint: params.tint * 0.5 }, swing);
  const depth = draw(6);
  const surface = {
    along: alongOf((s) => {
      const [L, a, b] = mixed(root, tip, s);
      return [L * (0.8 + 0.2 * depth), a, b];
    }),
    profile: HALF_ROUND,
    translucency: 0.35,
    relief: 0.08,
    id: 1 + Math.floor(255 * draw(10)),
  };
  scene.line(points, surface, flies ? 1 + depth : depth);
}
