import { cardRegions, cardSurface } from '../card/kinds.ts';
import { srgbToLinear } from '../colour/srgb.ts';
import { SieveError } from '../errors.ts';
import { standingMesh, type CardMesh } from '../card/mesh/card-mesh.ts';
import type { SlottedMesh } from '../card/mesh/user-mesh.ts';
import type { CardSides } from '../card/sides.ts';
import type { CardSurface } from '../card/surface.ts';
import { cutOfCard, outlineWanted } from '../piece/card-outline.ts';
import { cardOf } from '../piece/has-regions.ts';
import type { Material, PieceDoc } from '../piece/piece-doc.ts';
import { mapKind, type MapName } from '../raster/maps.ts';
import type { Picture } from '../raster/raster.ts';
import { withAlphaOf } from '../raster/with-alpha.ts';
import { frameOf, type RunState } from '../raster/run-state.ts';
import { withMaskAsAlpha } from '../run/compose.ts';
import type { Wrap } from '../sieve/mip-filters.ts';
import { MATERIAL_SLOTS, slotsOf, type SlotRasters } from './slots.ts';

/** What is to be written of a piece, made from its document and a finished run: a GLB and its checks know nothing else. */
export interface PieceView {
  name: string;
  /** Of its material and its mesh. */
  names: { material: string; mesh: string };
  /** The card, metres. */
  surface: CardSurface;
  material: Material;
  /** Whether vertices say how far they are from root to tip. */
  sway: boolean;
  /** A back that looks otherwise than the front; null: there is none. */
  back: BackLook | null;
  /** Beside the texture. */
  wrap: { across: Wrap; down: Wrap };
  /** Colour with the mask as its alpha. */
  base: Picture;
  slots: SlotRasters;
  /** What glTF has no place for, as people call it. */
  leftOut: readonly string[];
}

/** @param mesh - Of the document's mesh, where it has one, as its file has it. */
export function pieceView(
  doc: PieceDoc,
  state: RunState,
  mesh: SlottedMesh | null = null,
  names?: PieceView['names'],
): PieceView {
  return {
    name: doc.name,
    names: names ?? { material: doc.name, mesh: doc.name },
    surface: doc.mesh ? meshOf(doc.mesh, mesh, doc) : cardOfRun(doc, state),
    material: doc.material,
    sway: doc.handOff.sway ?? false,
    back: backOf(doc, state),
    wrap: { across: doc.levels.wrapAcross, down: doc.levels.wrapDown },
    base: withMaskAsAlpha(state),
    slots: slotsOf(state.maps),
    leftOut: leftOutOfGltf(state.maps.keys(), doc),
  };
}

/** How a back of its own looks. */
export interface BackLook {
  /** What its colour is multiplied by, linear. */
  tint: readonly [number, number, number];
  /** Its own colour with the mask as its alpha; null: the front's. */
  base: Picture | null;
}

function backOf({ sides }: PieceDoc, { maps, mask }: RunState): BackLook | null {
  if (!sides) return null;
  const own = maps.get('backColour') as Picture | undefined;
  if (!own && sides.tint.every((v) => v === 255)) return null;
  return { tint: tintOf(sides), base: own ? withAlphaOf(own, mask) : null };
}

/** Linear. */
export function tintOf({ tint }: CardSides): BackLook['tint'] {
  return tint.map((v) => srgbToLinear(v / 255)) as [number, number, number];
}

function meshOf(
  how: CardMesh,
  mesh: SlottedMesh | null,
  { sides, normals }: Pick<PieceDoc, 'sides' | 'normals'>,
): CardSurface {
  if (mesh) return standingMesh(mesh, how, { sides, normals });
  throw new SieveError(
    'missing-source',
    `The mesh ${how.fileName} is not here.`,
    'Choose its file again in the Card tray.',
  );
}

function cardOfRun(doc: PieceDoc, state: RunState): CardSurface {
  const cardWidth = doc.cardWidth * frameOf(state).share;
  const outline = outlineWanted(doc);
  const of = cardOf(doc);
  const cut = outline && cutOfCard(state.mask, outline, doc.material, cardRegions(of));
  const cuts = { cutOut: cut?.cutOut, regionCutOuts: cut?.regionCutOuts };
  return cardSurface({ ...of, cardWidth, ...cuts }, state.colour);
}

/**
 * What glTF has no place for, as people call it: maps that no slot takes, the colour of the back where there is no back,
 * and a clip that is not hard (2.0 §3.9.4 knows no other).
 */
export function leftOutOfGltf(
  maps: Iterable<MapName>,
  { sides, material, drawn }: Pick<PieceDoc, 'sides' | 'material' | 'drawn'>,
): string[] {
  const placed = new Set<MapName>(['colour', 'mask', ...Object.values(MATERIAL_SLOTS).map((slot) => slot.map)]);
  if (sides) placed.add('backColour');
  const words = [...maps].filter((map) => !placed.has(map)).map((map) => mapKind(map).label);
  return material.mode === 'mask' && drawn.by !== 'hard' ? [...words, `a clip that is ${CLIP_WORDS[drawn.by]}`] : words;
}
const CLIP_WORDS = { hashed: 'hashed', ordered: 'dithered', coverage: 'drawn by samples' } as const;
