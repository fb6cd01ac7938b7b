import type { NumberKeys, Range } from '../math/range.ts';

/** Points of a path are whole numbers of this part of a texel: a stroke is the same on every host. */
export const POINT_UNIT = 64;
/** Pressure of a point, 0 to this. */
export const FULL_PRESSURE = 1023;

export const TIPS = ['round', 'ragged', 'whole texels', 'piece'] as const;
export type TipName = (typeof TIPS)[number];
export const TURNS = ['as it is', 'along the stroke', 'at random'] as const;
export type Turn = (typeof TURNS)[number];

/** What is drawn along a path. Lengths are in texels of the full size. */
export interface Brush {
  tip: TipName;
  /** At full pressure. */
  diameter: number;
  /** Share of the radius that is full; the rest falls off to the rim. */
  hardness: number;
  /** How much one dab takes; below 1 dabs add up where they overlap. */
  flow: number;
  /** Between dabs, as a share of the diameter; a round tip at full flow has no dabs but is swept. */
  spacing: number;
  /** Whether a pen's pressure makes the tip smaller, and the flow weaker. */
  sizeByPressure: boolean;
  flowByPressure: boolean;
  /** For a ragged tip: how deep it is torn, as a share of the radius. */
  torn: number;
  /** Where its teeth belong: to the picture, where dabs that overlap leave them, or to each dab, as in strokes that do not say. */
  rim?: 'picture' | 'dab' | undefined;
  /** For a tip made from a piece: the SHA-256 of the file that holds its mask, how it is turned, and what is left to chance. */
  picture: string;
  turn: Turn;
  angle: number;
  angleSpread: number;
  sizeSpread: number;
}

export const BRUSH_DEFAULTS: Brush = {
  tip: 'round',
  diameter: 24,
  hardness: 1,
  flow: 1,
  spacing: 0.12,
  sizeByPressure: true,
  flowByPressure: false,
  torn: 0.5,
  rim: 'picture',
  picture: '',
  turn: 'at random',
  angle: 0,
  angleSpread: 0,
  sizeSpread: 0,
};

/** Limits of a brush: the schema and the tray read them. */
export const BRUSH_RANGES = {
  diameter: { min: 1, max: 4096, digits: 1, unit: 'texels', logarithmic: true },
  hardness: { min: 0, max: 1 },
  flow: { min: 0.01, max: 1 },
  spacing: { min: 0.02, max: 4 },
  torn: { min: 0, max: 1 },
  angle: { min: -180, max: 180, step: 1, digits: 0, unit: 'degrees' },
  angleSpread: { min: 0, max: 360, step: 1, digits: 0, unit: 'degrees' },
  sizeSpread: { min: 0, max: 0.95 },
} as const satisfies { [K in NumberKeys<Brush>]: Range };

/** A line that a stroke is drawn on both sides of. */
export interface Mirror {
  /** A point of it, in texels. */
  x: number;
  y: number;
  /** 0 is a line from top to bottom, 90 one from left to right. */
  degrees: number;
}

interface AnyStroke {
  id: string;
  effect: 'cut' | 'restore';
  mirror?: Mirror | undefined;
}

/** A path drawn with a brush: x, y and pressure of its points, one after the other. */
export interface BrushStroke extends AnyStroke {
  kind: 'brush';
  brush: Brush;
  /** Seed of what is left to chance. */
  seed: number;
  path: number[];
}

/** What an outline holds, in x and y of its points; where it crosses itself too. */
export interface OutlineStroke extends AnyStroke {
  kind: 'outline';
  path: number[];
}

/** The connected region around a texel: of like colour in the picture, or of the mask as it is at that moment. */
export interface RegionStroke extends AnyStroke {
  kind: 'region';
  of: 'picture' | 'mask';
  at: [x: number, y: number];
  /** OKLab distance, of the picture. */
  tolerance: number;
  /** Breaks of up to this many texels in what bounds the region do not let it leak out. */
  gaps: number;
}

/** One thing done by hand. Never changed once it is drawn. */
export type Stroke = BrushStroke | OutlineStroke | RegionStroke;

/** Limits of a region: the schema and the tray read them. */
export const REGION_RANGES = {
  tolerance: { min: 0, max: 1, step: 0.005, digits: 3 },
  gaps: { min: 0, max: 64, step: 1, digits: 0, unit: 'texels' },
} as const satisfies { [K in NumberKeys<RegionStroke>]: Range };

/** Defined once: the schema refuses what is beyond. */
export const STROKE_LIMITS = {
  /** Numbers of one path. */
  path: 60_000,
  /** Strokes of one step. */
  strokes: 20_000,
  /** How far beyond the picture a point may lie, texels. */
  beyond: 4096,
} as const;
