import type { CurvePoint, MapName, NumberKeys, Rgb, StepKindName, StepParams } from '@lithe-sieve/core';

/** Shown only while this holds, of a step of this version. */
interface Shown<P> {
  when?: ((params: P, version: number) => boolean) | undefined;
}

type KeysOf<P, T> = { [K in keyof P]: P[K] extends T ? K : never }[keyof P] & string;

/** A number; its limits are those that core says of the kind. */
interface NumberField<P> {
  as: 'number';
  name: NumberKeys<P>;
  label: string;
  /** What it does to the picture. */
  hint: string;
  /** What 0 stands for, where it is no amount. */
  zero?: string;
}

/** One of a few words; short ones stand side by side, many in a list. */
interface ChoiceField<P> {
  as: 'choice';
  name: KeysOf<P, string>;
  label: string;
  options: readonly string[];
  /** What a person reads for an option that is stored under an older name. */
  names?: Partial<Record<string, string>>;
  list?: boolean;
}

/** A source of the piece by its id, with what to do when it is of another size. */
interface SourceField<P> {
  as: 'source';
  name: KeysOf<P, string>;
  label: string;
  /** Whether the colour picture may be chosen. */
  colourToo: boolean;
}

/** An earlier step of the run. */
interface StepField<P> {
  as: 'step';
  name: KeysOf<P, string>;
  label: string;
}

/** What the step found: shown first, changed when asked, each place taken or left. */
interface FoundField {
  as: 'found';
  one: string;
  many: string;
  verb: string;
}

/** Points touched on the picture. */
interface TouchesField {
  as: 'touches';
  list: 'at';
  label: string;
  none: string;
}

/** Another piece, whose mask becomes a source here. */
interface PieceField {
  as: 'piece';
}

/** Another piece whose holes are cut, which may be newer than its copy. */
interface CutByField {
  as: 'cut by';
}

/** Scribbles over what to keep and what to drop. */
interface ScribblesField {
  as: 'scribbles';
}

/** One colour. */
interface ColourField<P> {
  as: 'colour';
  name: KeysOf<P, Rgb>;
  label: string;
}

/** A curve over 0–1. */
interface CurveField<P> {
  as: 'curve';
  name: KeysOf<P, CurvePoint[]>;
  label: string;
}

/** A sentence that follows the parameters. */
interface NoteField<P> {
  as: 'note';
  text: (params: P) => string;
}

/** On or off. */
interface ToggleField<P> {
  as: 'toggle';
  name: KeysOf<P, boolean>;
  label: string;
}

/** Stops of a ramp. */
interface RampField {
  as: 'ramp';
}

/** Photographs and their lights. */
interface LightsField {
  as: 'lights';
}

/** Tools of the hand, and how many strokes there are. */
interface HandField {
  as: 'hand';
}

/** How a map is spread. */
interface HistogramField {
  as: 'histogram';
  map: MapName;
}

export type Field<P> = Shown<P> & AnyOf<P>;

type AnyOf<P> =
  | ToggleField<P>
  | RampField
  | LightsField
  | HandField
  | HistogramField
  | NumberField<P>
  | ChoiceField<P>
  | SourceField<P>
  | StepField<P>
  | FoundField
  | TouchesField
  | ScribblesField
  | PieceField
  | CutByField
  | ColourField<P>
  | CurveField<P>
  | NoteField<P>;
export type AnyField = Field<Record<string, never>>;

/** Controls that need no more than the parameter that they set. */
const PLAIN = ['number', 'choice', 'colour', 'toggle'] as const;
export type PlainFieldKind = (typeof PLAIN)[number];

export function isPlain(field: AnyField): field is AnyField & { as: PlainFieldKind } {
  return PLAIN.some((as) => as === field.as);
}

/** The tray of a kind, control by control from the top. */
export type Fields = { [K in StepKindName]?: readonly Field<StepParams[K]>[] };
