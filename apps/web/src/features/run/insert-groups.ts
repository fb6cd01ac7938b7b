import { PURPOSES, stepKind, type Purpose, type StepKindName, type Stretch } from '@lithe-sieve/core';
import { kindsOf } from '../../document/step-labels';

/** A kind of step as the menu offers it. */
export interface Offer {
  name: StepKindName;
  label: string;
  hint: string;
  /** Why it can do nothing here; empty where it can. */
  missing: string;
}

export interface OfferGroup {
  purpose: Purpose;
  title: string;
  offers: Offer[];
}

/** What the piece has of what kinds may need. */
export interface Here {
  sources: number;
  maskSteps: number;
}

const WHY = {
  'a second source': 'Needs a second source: drop another picture first.',
  'an earlier step': 'Needs another step of the mask before it.',
} as const;

/** Kinds of a stretch whose label or hint holds all words, under what they are for. Empty groups are left out. */
export function offersOf(stretch: Stretch, words: string, here: Here): OfferGroup[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  const offers = kindsOf(stretch).map((name): Offer & { purpose: Purpose } => {
    const { label, hint, purpose, needs } = stepKind(name);
    const has = { 'a second source': here.sources > 1, 'an earlier step': here.maskSteps > 0 };
    return { name, label, hint, purpose, missing: needs && !has[needs] ? WHY[needs] : '' };
  });
  const found = offers.filter(({ label, hint }) => wanted.every((w) => `${label} ${hint}`.toLowerCase().includes(w)));
  return (Object.keys(PURPOSES) as Purpose[])
    .map((purpose) => ({ purpose, title: PURPOSES[purpose], offers: found.filter((o) => o.purpose === purpose) }))
    .filter((group) => group.offers.length > 0);
}
