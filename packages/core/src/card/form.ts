export const FORM_KINDS = ['flat', 'bent', 'folded', 'over an edge', 'round a post', 'slung'] as const;
export type FormKind = (typeof FORM_KINDS)[number];

/** How a card is bent. Each kind takes those that {@link FORM_USES} lists; the others wait for their kind. */
export interface CardForm {
  kind: FormKind;
  /** Degrees by which the card turns from its root to its tip; positive: to the front. */
  along: number;
  /** Where along the card it turns: -1 at the root, 0 evenly, 1 at the tip. */
  curl: number;
  /** Degrees by which it turns from its left to its right side; positive: sides to the front. */
  across: number;
  /** Degrees by which the two sides of the fold are turned towards each other; positive: to the front. */
  fold: number;
  /** Share of the width that the fold is spread over. */
  round: number;
  /** Where the fold is, as a share of the width. */
  foldAt: number;
  /** Degrees by which the card leans at its root; positive: to the front. */
  lean: number;
  /** Share of the card that lies on top of the edge. */
  over: number;
  /** Millimetres: of the edge's rounding, or of the post. */
  radius: number;
  /** Degrees of the post that the card lies on, at most. */
  wrap: number;
  /** How far it hangs through, as a share of its length. */
  sag: number;
  /** Flat pieces that the bends are made of, along and across; 0: as many as the tolerance asks for. */
  segments: number;
  /** Millimetres that flat pieces may leave the curve by. */
  tolerance: number;
}

export const FLAT: CardForm = {
  kind: 'flat',
  along: 45,
  curl: 0.3,
  across: 0,
  fold: 40,
  round: 0.1,
  foldAt: 0.5,
  lean: 0,
  over: 0.4,
  radius: 20,
  wrap: 360,
  sag: 0.15,
  segments: 0,
  tolerance: 1,
};

type FormNumber = Exclude<keyof CardForm, 'kind'>;

/** Both ends of each number, and how it is shown. */
export const FORM_RANGES: Record<FormNumber, { min: number; max: number; step: number; digits: number }> = {
  along: { min: -360, max: 360, step: 1, digits: 0 },
  curl: { min: -1, max: 1, step: 0.05, digits: 2 },
  across: { min: -180, max: 180, step: 1, digits: 0 },
  fold: { min: -170, max: 170, step: 1, digits: 0 },
  round: { min: 0, max: 1, step: 0.05, digits: 2 },
  foldAt: { min: 0.05, max: 0.95, step: 0.05, digits: 2 },
  lean: { min: -90, max: 90, step: 1, digits: 0 },
  over: { min: 0, max: 0.9, step: 0.05, digits: 2 },
  radius: { min: 1, max: 5000, step: 1, digits: 0 },
  wrap: { min: 10, max: 360, step: 5, digits: 0 },
  sag: { min: 0.01, max: 0.45, step: 0.01, digits: 2 },
  segments: { min: 0, max: 48, step: 1, digits: 0 },
  tolerance: { min: 0.05, max: 100, step: 0.05, digits: 2 },
};

/** What shapes each kind. */
export const FORM_USES: Record<FormKind, readonly FormNumber[]> = {
  flat: [],
  bent: ['along', 'curl', 'across', 'lean'],
  folded: ['fold', 'round', 'foldAt', 'along', 'curl', 'lean'],
  'over an edge': ['over', 'radius'],
  'round a post': ['radius', 'wrap'],
  slung: ['sag'],
};

/** Lengths of a form for a card whose unit is not the metre. @param metre - Units in one. */
export function formInUnits(form: CardForm, metre: number): CardForm {
  return { ...form, radius: form.radius * metre, tolerance: form.tolerance * metre };
}
