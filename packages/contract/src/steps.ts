import {
  BLEED_HOWS,
  BLEED_UNDERS,
  CHANNELS,
  COLOUR_METRICS,
  COLOUR_REACHES,
  COMBINE_HOWS,
  FEATHER_SIDES,
  LEVELLED,
  MIXED_INS,
  PERFORATE_PATTERNS,
  RAMP_BYS,
  LIMITS,
  STROKE_LIMITS,
  SWING_OVERS,
  TOUCH_TAKES,
  UNMIX_FROMS,
} from '@lithe-sieve/core';
import { z } from './zod.ts';
import { idSchema } from './ids.ts';
import { mapSteps, rampLook } from './map-steps.ts';
import { curve, fit, rgb, sourceId, step, texels } from './values.ts';
import { formerlySays } from './versions.ts';

const swatches = z.array(rgb).max(32);
const scribble = z.preprocess(
  formerlySays('effect'),
  z.strictObject({ effect: z.enum(['keep', 'drop']), radius: z.number().min(0.5).max(512), at: texels }),
);
/** Documents written before it was there took encoded values. */
const mixedIn = z.enum(MIXED_INS).default('encoded values');
const smallRegions = { applied: z.boolean(), left: texels };

/** One member for every kind of step; the parameters are checked against core's types below. */
export const stepSchema = z.discriminatedUnion('kind', [
  step('from-channel', { sourceId, channel: z.enum(CHANNELS), fit }),
  step('from-colour', {
    drop: swatches,
    keep: swatches,
    // documents written before these were there
    metric: z.enum(COLOUR_METRICS).default('OKLab'),
    reach: z.enum(COLOUR_REACHES).default('all over'),
    from: texels.default([]),
  }),
  step('from-touch', { at: texels, take: z.enum(TOUCH_TAKES) }),
  step('from-backdrop', { mixed: mixedIn }),
  step('from-two-backdrops', { sourceId, mixed: z.enum(MIXED_INS) }),
  step('from-strokes', { strokes: z.array(scribble).max(500) }),
  step('clear-holes', { taken: texels }),
  step('fine-fringe', {}),
  step('from-piece', { sourceId }),
  step('levels', { ramp: z.enum(['soft', 'hard']), curve: curve.default([]) }),
  step('invert', {}),
  step('grow', {}),
  step('feather', { side: z.enum(FEATHER_SIDES) }),
  step('smooth-edge', {}),
  step('harden-edge', {}),
  step('drop-strays', smallRegions),
  step('close-pinholes', smallRegions),
  step('cut-below', { sourceId, fit }),
  step('strokes', { strokes: z.array(idSchema).max(STROKE_LIMITS.strokes) }),
  step('combine', { how: z.enum(COMBINE_HOWS), stepId: z.union([z.literal(''), idSchema]) }),
  step('opacity-factor', {}),
  step('perforate', { pattern: z.enum(PERFORATE_PATTERNS) }),
  step('cut-by-piece', {
    sourceId,
    of: z
      .strictObject({ piece: idSchema, name: z.string().max(LIMITS.pieceName), revision: z.int().min(0) })
      .nullable(),
    repeats: z.boolean(),
    inverted: z.boolean(),
  }),
  step('unmix', { from: z.enum(UNMIX_FROMS), matte: rgb, mixed: mixedIn }),
  step('bleed', {
    // documents written before these were there
    how: z.enum(BLEED_HOWS).default('nearest'),
    under: z.enum(BLEED_UNDERS).default('below that alpha'),
    reach: z.number().min(0).max(4096).default(0),
  }),
  step('ramp', { ...rampLook, sourceId, fit, by: z.enum(RAMP_BYS) }),
  step('swing', { over: z.enum(SWING_OVERS) }),
  step('colour-levels', { channel: z.enum(LEVELLED), curve }),
  step('match', { sourceId }),
  step('flatten-light', {}),
  ...mapSteps,
]);
