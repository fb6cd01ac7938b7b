import {
  CHANNELS,
  COLOUR_ORIGINS,
  DIMMINGS,
  EDGE_PROFILES,
  GRADIENT_BLENDS,
  GREEN_WAYS,
  HAND_DOES,
  HEIGHT_BLENDS,
  LIGHT_RANGES,
  LIGHTS,
  MAP_NAMES,
  MIP_FILTERS,
  MOST_STOPS,
  NORMAL_BLENDS,
  NORMAL_TURNS,
  RESIZE_BYS,
  SIDES,
  STROKE_LIMITS,
  TILE_WAYS,
  TURN_HOWS,
  VALUE_RECIPES,
  VEIN_TONES,
  type Range,
  type ValueMapName,
} from '@lithe-sieve/core';
import { z } from './zod.ts';
import { idSchema } from './ids.ts';
import { fit, rgb, share, sourceId, step } from './values.ts';

const stop = z.strictObject({ at: share, colour: rgb });
/** Parameters of both steps that recolour by a ramp. */
export const rampLook = {
  stops: z.array(stop).min(1).max(MOST_STOPS),
  blend: z.enum(GRADIENT_BLENDS),
  keepLightness: z.boolean(),
};
const picture = { sourceId, fit, channel: z.enum(CHANNELS) };
const blend = z.enum(HEIGHT_BLENDS);
const within = ({ min, max }: Range) => z.number().min(min).max(max);
const light = z.strictObject({
  sourceId: idSchema,
  azimuth: within(LIGHT_RANGES.azimuth),
  elevation: within(LIGHT_RANGES.elevation),
});

const map = z.enum(MAP_NAMES);

const valueMap = <K extends ValueMapName>(kind: K) =>
  step(kind, {
    ...picture,
    from: z.enum(VALUE_RECIPES),
    inverted: z.boolean(),
    map: map.default('mask'), // neither was there before version 11
    offset: z.number().min(-1).max(1).default(0),
  });

const colourStep = <K extends 'other-colour' | 'through-colour' | 'emission'>(kind: K) =>
  step(kind, {
    ...picture,
    from: z.enum(COLOUR_ORIGINS),
    colour: rgb,
    dimmedBy: z.enum(DIMMINGS),
    map,
    inverted: z.boolean(),
  });

/** One member for every kind of step of the maps and of the fit. */
export const mapSteps = [
  step('height-from-picture', { ...picture, blend }),
  step('height-from-edge', { blend, profile: z.enum(EDGE_PROFILES) }),
  step('height-from-veins', { ...picture, blend, veins: z.enum(VEIN_TONES) }),
  step('height-by-hand', { strokes: z.array(idSchema).max(STROKE_LIMITS.strokes), does: z.enum(HAND_DOES) }),
  step('normal-from-height', {}),
  step('normal-from-picture', { sourceId, fit, green: z.enum(GREEN_WAYS), blend: z.enum(NORMAL_BLENDS) }),
  step('normal-from-lights', { lights: z.array(light).max(LIGHTS.most), colour: z.enum(['as it is', 'albedo']) }),
  step('flip-normals', { turn: z.enum(NORMAL_TURNS) }),
  valueMap('roughness'),
  valueMap('specular'),
  valueMap('metalness'),
  valueMap('occlusion'),
  valueMap('translucency'),
  valueMap('thickness'),
  valueMap('dirt'),
  step('tint-id', {}),
  step('back-colour', { sourceId, fit }),
  colourStep('other-colour'),
  colourStep('through-colour'),
  colourStep('emission'),
  step('ramp-by-height', rampLook),
  step('bleed-maps', {}),
  step('trim', { sides: z.enum(SIDES) }),
  step('turn-to-fit', { how: z.enum(TURN_HOWS), sides: z.enum(SIDES), filter: z.enum(MIP_FILTERS) }),
  step('place', { filter: z.enum(MIP_FILTERS) }),
  step('resize', { by: z.enum(RESIZE_BYS), sides: z.enum(SIDES), filter: z.enum(MIP_FILTERS) }),
  step('pad', { sides: z.enum(SIDES) }),
  step('make-tileable', { ways: z.enum(TILE_WAYS) }),
] as const;
