import type { StepKindName } from '@lithe-sieve/core';
import type { Component } from 'vue';
import BleedForm from './BleedForm.vue';
import FromChannelForm from './FromChannelForm.vue';
import FromColourForm from './FromColourForm.vue';
import LevelsForm from './LevelsForm.vue';

/** The tray's form of every kind of step; null where there is nothing to set. A new kind is one line here. */
export const FORMS: Record<StepKindName, Component | null> = {
  'from-channel': FromChannelForm,
  'from-colour': FromColourForm,
  levels: LevelsForm,
  invert: null,
  bleed: BleedForm,
};
