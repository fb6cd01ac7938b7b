import { oklabFromBytes } from '../../colour/oklab.ts';
import type { RecipeKind } from '../kind.ts';
import { FLAT } from '../profile.ts';
import type { RecipePart } from '../part.ts';
import { Scene } from '../scene.ts';
import { STEPS } from '../profile.ts';
import { towards } from '../tints.ts';
import type { AtlasTurning, Place } from './pack.ts';

/** Where a copy of a part lies. */
export interface AtlasPlace extends Place {
  /** SHA-256 of the part's file, and which copy of it, from 0. */
  part: string;
  copy: number;
}

export interface AtlasParams {
  turning: AtlasTurning;
  /** Between any two parts, texels in full. */
  gutter: number;
  /** Whether parts are packed at the same texels per metre; else each at the same share of its own texels. */
  levelled: boolean;
  placed: AtlasPlace[];
}

/** Parts of an atlas, and copies of all of them together. */
export const MOST_ATLAS_PARTS = 128;
export const MOST_COPIES = 32;
export const MOST_PLACED = 256;
export const PART_WEIGHT = { min: 0.1, max: 10, logarithmic: true } as const;

export const atlas: RecipeKind<AtlasParams> = {
  label: 'Atlas',
  hint: 'Pieces packed side by side by their outlines into one texture.',
  version: 1,
  defaults: { turning: 'any angle', gutter: 16, levelled: true, placed: [] },
  ranges: { gutter: { min: 0, max: 256, step: 1, digits: 0, unit: 'texels' } },
  ground: () => oklabFromBytes(128, 128, 128),
  scene({ placed }, _seed, { parts, stamps, meter }) {
    const scene = new Scene(meter);
    const along = new Float32Array(3 * (STEPS + 1)).fill(1);
    for (const [i, { part, x, y, turn, tall }] of placed.entries()) {
      const stamp = stamps[parts.findIndex((p) => p.sha256 === part)];
      if (!stamp) continue;
      const half = (tall * stamp.width) / stamp.height / 2;
      const [dx, dy] = towards(turn).map((v) => (v * tall) / 2);
      const own = stamp.maps.includes('height');
      const end = (to: number) => ({ x: x + to * dx, y: y + to * dy, half, lift: own ? 0 : LIFT });
      const id = 1 + (i % 255);
      scene.line([end(-1), end(1)], { along, stamp, profile: FLAT, translucency: 0, relief: own ? 1 : 0, id }, 0);
    }
    return scene;
  },
  shapes: ({ placed }) => placed.length,
  mostParts: MOST_ATLAS_PARTS,
  enlarged: ({ placed }, parts, width) =>
    Math.max(
      0,
      ...placed.map(({ part, tall }) => (tall * width) / (parts.find((p) => p.sha256 === part)?.height ?? Infinity)),
    ),
};

/** Height of what brings no heights of its own. */
const LIFT = 0.5;

/** The level down to which a whole texel always lies between two parts. */
export function partedTo(gutter: number): number {
  return Math.max(0, Math.floor(Math.log2(Math.max(1, gutter))) - 1);
}

/** What of an atlas stands for a part that was taken again, or taken out. */
export function withPart(placed: readonly AtlasPlace[], before: string, now: RecipePart | null): AtlasPlace[] {
  return placed.flatMap((p) => (p.part !== before ? [p] : now ? [{ ...p, part: now.sha256 }] : []));
}
