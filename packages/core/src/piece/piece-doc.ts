import type { CardForm } from '../card/form.ts';
import type { CardNormals } from '../card/card-normals.ts';
import type { CardSides } from '../card/sides.ts';
import type { CardMesh } from '../card/mesh/card-mesh.ts';
import type { CardSet } from '../card/set.ts';
import type { CardOutline } from '../card/outline/card-outline.ts';
import type { StepKindName, StepParams } from '../steps/registry.ts';
import { STEP_KINDS, stepKind } from '../steps/registry.ts';
import { STRETCH_NAMES } from '../steps/stretches.ts';
import { CLIP_DRAWING_DEFAULTS, type ClipDrawing } from '../sieve/drawn/draw-clip.ts';
import type { Effort } from '../codec/bc/formats.ts';
import { LEVEL_DEFAULTS, type LevelSettings } from '../sieve/levels.ts';
import type { Naming } from './naming.ts';
import type { SceneSpace } from './scene-space.ts';
import type { PackedFile, TextureContainer } from './packing.ts';
import type { ProfileId } from './profile-id.ts';
import type { Target } from './target.ts';
import type { Recipe } from '../recipe/recipe.ts';
import type { GreenWay } from '../steps/maps/normal-from-picture.ts';

/** One entry of a run: a discriminated union, so that kind and parameters always fit. */
export type StepEntry = {
  [K in StepKindName]: {
    id: string;
    kind: K;
    on: boolean;
    params: StepParams[K];
    /** Which version of the step computes it; without it the first. */
    version?: number | undefined;
  };
}[StepKindName];

/** Kinds of step that take what is drawn by hand. */
export type HandStep = Extract<StepEntry, { kind: 'strokes' | 'height-by-hand' }>;

export function isHandStep(step: StepEntry | undefined): step is HandStep {
  return step?.kind === 'strokes' || step?.kind === 'height-by-hand';
}

/** A source that holds a map of one value, by the map's name. */
const VALUE_ROLES = ['roughness', 'specular', 'metalness', 'occlusion', 'translucency', 'thickness', 'dirt'] as const;

/** What a source is for; the first is the colour picture whatever it says. */
export const SOURCE_ROLES = [
  'colour',
  'mask',
  'other backdrop',
  'height',
  'normal',
  'lit',
  ...VALUE_ROLES,
  'reference',
] as const;
export type SourceRole = (typeof SOURCE_ROLES)[number];

export interface SourceRef {
  /** Within the piece. */
  id: string;
  /** Digest of the stored bytes; for a recipe, its {@link recipeKey}. */
  sha256: string;
  fileName: string;
  /** What it is grown from, where it is no file. */
  recipe?: Recipe | undefined;
  /** Steps that read such a source choose it by themselves when they are inserted. */
  role?: SourceRole | undefined;
  /** Whole path of the file on the server's disk, each save of which takes the place of this one. */
  follows?: string | undefined;
  /** Where its top left texel lies on the first source; without it, a source of another size is scaled or refused. */
  place?: SourcePlace | undefined;
}

/** In texels of the full size. */
export interface SourcePlace {
  x: number;
  y: number;
}

export type AlphaMode = 'opaque' | 'mask' | 'blend';

/** glTF 2.0 §3.9.4–3.9.5. */
export interface Material {
  mode: AlphaMode;
  cutoff: number;
  doubleSided: boolean;
  /** Alpha factor of the base colour, 0–1. */
  opacity: number;
  /** What the emission is multiplied by, 0–{@link EMISSION_MOST}; left out: 1. */
  emission?: number | undefined;
}

/** As bright as emission gets, times white: beyond any lamp in a picture that is exposed for daylight. */
export const EMISSION_MOST = 100;

/** Bytes of a hand-off: of its files, and of its textures on a graphics card with mip levels. */
export interface Budget {
  disk?: number | undefined;
  card?: number | undefined;
}

/** Version of the form that documents are written in; the contract reads earlier ones. */
export const DOC_SCHEMA = 13;

/** Everything of a piece that is saved and undone. The first source is the colour picture. */
export interface PieceDoc {
  schema: number;
  name: string;
  sources: SourceRef[];
  run: StepEntry[];
  material: Material;
  /** How a renderer decides which pixels of it show, in mode mask. */
  drawn: ClipDrawing;
  /** How its mip levels come about. */
  levels: LevelSettings;
  /** Width of the card in metres; its height follows from the picture. */
  cardWidth: number;
  /** Where it stands on more than one card. */
  set?: CardSet | undefined;
  /** Where it is bent. */
  form?: CardForm | undefined;
  /** A back of triangles of its own; else the material says whether both sides show. */
  sides?: CardSides | undefined;
  /** How its normals are bent outwards; left out: not at all. */
  normals?: CardNormals | undefined;
  /** Where it lies on a mesh instead of a card: sets, forms and outlines wait. */
  mesh?: CardMesh | undefined;
  /** Where it is cut to what the mask keeps. */
  outline?: CardOutline | undefined;
  /**
   * `green`: which way the green of normal maps points, by the standards that have it so. `sway`: whether each vertex says how far it is from root to tip. `effort`: how long the colours of
   * blocks are sought; quick where it says nothing.
   */
  handOff: {
    profile: ProfileId;
    pattern: string;
    /** Names inside of scenes, and words for states; left out: as they begin. */
    naming?: Naming | undefined;
    green: GreenWay;
    effort?: Effort | undefined;
    /** Unit and axis of scenes that leave them open; left out: metres, Y up. */
    space?: SceneSpace | undefined;
    /** What levels that a profile ships are written into; left out: DDS. */
    container?: TextureContainer | undefined;
    sway?: boolean | undefined;
    /** Files of a packing of one's own; left out: as it begins. */
    packing?: PackedFile[] | undefined;
    /** What that packing is for; left out: as targets mostly are. */
    target?: Target | undefined;
    /** Bytes that it may take, where someone has set them. */
    budget?: Budget | undefined;
  };
}

export const PIECE_DEFAULTS = {
  schema: DOC_SCHEMA,
  material: { mode: 'mask', cutoff: 0.5, doubleSided: true, opacity: 1 },
  drawn: CLIP_DRAWING_DEFAULTS,
  levels: LEVEL_DEFAULTS,
  cardWidth: 0.5,
  handOff: { profile: 'glb', pattern: '{piece}_{map}', green: 'OpenGL' },
} as const satisfies Omit<PieceDoc, 'name' | 'sources' | 'run'>;

export function makeStep<K extends StepKindName>(id: string, kind: K, params: Partial<StepParams[K]> = {}): StepEntry {
  const { version, defaults } = STEP_KINDS[kind];
  return { id, kind, on: true, ...(version ? { version } : {}), params: { ...defaults, ...params } } as StepEntry;
}

/** Where a step of this kind goes when no place is asked for: the end of its stretch. */
export function endOfStretch(run: readonly StepEntry[], kind: StepKindName): number {
  const own = STRETCH_NAMES.indexOf(stepKind(kind).stretch);
  const later = run.findIndex((s) => STRETCH_NAMES.indexOf(stepKind(s.kind).stretch) > own);
  return later < 0 ? run.length : later;
}

/** Moves a step by `by` places within its stretch; the same run where it cannot move. */
export function moveStep(run: readonly StepEntry[], id: string, by: number): StepEntry[] {
  const from = run.findIndex((s) => s.id === id);
  const to = from + by;
  const fits =
    from >= 0 && to >= 0 && to < run.length && stepKind(run[to].kind).stretch === stepKind(run[from].kind).stretch;
  const out = [...run];
  if (fits) out.splice(to, 0, ...out.splice(from, 1));
  return out;
}
