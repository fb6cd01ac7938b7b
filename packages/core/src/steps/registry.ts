import { bleed, type BleedParams } from './bleed.ts';
import { fromChannel, type FromChannelParams } from './from-channel.ts';
import { fromColour, type FromColourParams } from './from-colour.ts';
import { invert, type InvertParams } from './invert.ts';
import { levels, type LevelsParams } from './levels.ts';
import type { StepKind } from './step.ts';

/** Parameters of every kind of step. A new kind is one line here and one below. */
export interface StepParams {
  'from-channel': FromChannelParams;
  'from-colour': FromColourParams;
  levels: LevelsParams;
  invert: InvertParams;
  bleed: BleedParams;
}

export type StepKindName = keyof StepParams;

export const STEP_KINDS: { readonly [K in StepKindName]: StepKind<StepParams[K]> } = {
  'from-channel': fromChannel,
  'from-colour': fromColour,
  levels,
  invert,
  bleed,
};

export const STEP_KIND_NAMES = Object.keys(STEP_KINDS) as StepKindName[];

/** The kind without its parameter type, for code that handles any step. */
export function stepKind(name: StepKindName): StepKind<StepParams[StepKindName]> {
  return STEP_KINDS[name];
}
