/** What a pattern of names may hold. */
export const NAME_PARTS = ['{piece}', '{map}', '{mode}', '{sides}', '{size}', '{width}', '{height}', '{revision}', '{date}'] as const; // prettier-ignore

/** What {mode} and {sides} may come to, by which a person changes the word for it. */
export const NAMED_STATES = ['opaque', 'mask', 'blend', 'two-sided', 'one-sided'] as const;
export type NamedState = (typeof NAMED_STATES)[number];
export type NameWords = Partial<Record<NamedState, string>>;

/** Words by which converters read the mode out of a name (common practice). */
export const NAME_WORDS: Record<NamedState, string> = {
  opaque: 'opaque',
  mask: 'masked',
  blend: 'blend',
  'two-sided': 'two-sided',
  'one-sided': 'one-sided',
};
export const NAME_LIMITS = { pattern: 120, word: 24 } as const;

/** How things in a scene are called, and the words for states; what is left out is as it begins. */
export interface Naming {
  /** Patterns as of files. */
  material?: string | undefined;
  mesh?: string | undefined;
  words?: NameWords | undefined;
}
export const SCENE_PATTERN = '{piece}';

/** What a name may say of a hand-off. */
export interface NameFacts {
  revision: number;
  /** Year-month-day. */
  date: string;
}
/** Where nothing is handed off. */
export const NO_FACTS: NameFacts = { revision: 0, date: '0000-00-00' };
