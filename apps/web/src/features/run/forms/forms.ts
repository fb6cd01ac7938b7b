import type { StepKindName } from '@lithe-sieve/core';
import type { Component } from 'vue';
import FromColourForm from './FromColourForm.vue';
import StrokesForm from './StrokesForm.vue';

/** Trays that are more than a list of fields. A new kind is one entry here or in trays.ts. */
export const FORMS: Partial<Record<StepKindName, Component>> = {
  'from-colour': FromColourForm,
  strokes: StrokesForm,
};
