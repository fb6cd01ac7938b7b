import { cardSurface, type PictureCutOut } from '../card/kinds.ts';
import { srgbToLinear } from '../colour/srgb.ts';
import { SieveError } from '../errors.ts';
import { standingMesh, type CardMesh } from '../card/mesh/card-mesh.ts';
import type { SlottedMesh } from '../card/mesh/user-mesh.ts';
import type { CardSurface } from '../card/surface.ts';
import { cutOutOf, outlineOfCard, outlineWanted } from '../piece/card-outline.ts';
import { cardOf } from '../piece/has-regions.ts';
import type { Material, PieceDoc } from '../piece/piece-doc.ts';
import { mapKind, type MapName } from '../raster/maps.ts';
import type { Picture } from '../raster/raster.ts';
import { frameOf, type RunState } from '../raster/run-state.ts';
import { withMaskAsAlpha } from '../run/compose.ts';
import type { Wrap } from '../sieve/mip-filters.ts';
import { MATERIAL_SLOTS, slotsOf, type SlotRasters } from './slots.ts';

/** What is to be written of a piece, made from its document and a finished run: a GLB and its checks know nothing else. */
export interface PieceView {
  name: string;
  /** The card, metres. */
  surface: CardSurface;
  material: Material;
  /** What the back's colour is multiplied by, linear; null: it looks as the front. */
  backTint: readonly [number, number, number] | null;
  /** Beside the texture. */
  wrap: { across: Wrap; down: Wrap };
  /** Colour with the mask as its alpha. */
  base: Picture;
  slots: SlotRasters;
  /** Maps that no slot takes, as people call them. */
  leftOut: readonly string[];
}

/** @param mesh - Of the document's mesh, where it has one, as its file has it. */
export function pieceView(doc: PieceDoc, state: RunState, mesh: SlottedMesh | null = null): PieceView {
  return {
    name: doc.name,
    surface: doc.mesh ? meshOf(doc.mesh, mesh, doc.sides) : cardOfRun(doc, state),
    material: doc.material,
    backTint: backTint(doc.sides),
    wrap: { across: doc.levels.wrapAcross, down: doc.levels.wrapDown },
    base: withMaskAsAlpha(state),
    slots: slotsOf(state.maps),
    leftOut: withoutSlot(state.maps.keys()),
  };
}

/** Linear; null where the back looks as the front. */
export function backTint(sides: PieceDoc['sides']): PieceView['backTint'] {
  if (!sides || sides.tint.every((v) => v === 255)) return null;
  return sides.tint.map((v) => srgbToLinear(v / 255)) as [number, number, number];
}

function meshOf(how: CardMesh, mesh: SlottedMesh | null, sides: PieceDoc['sides']): CardSurface {
  if (mesh) return standingMesh(mesh, how, { sides });
  throw new SieveError(
    'missing-source',
    `The mesh ${how.fileName} is not here.`,
    'Choose its file again in the Card tray.',
  );
}

function cardOfRun(doc: PieceDoc, state: RunState): CardSurface {
  const cardWidth = doc.cardWidth * frameOf(state).share;
  return cardSurface({ ...cardOf(doc), cardWidth, cutOut: cutOutOfRun(doc, state) }, state.colour);
}

function cutOutOfRun(doc: PieceDoc, { mask }: RunState): PictureCutOut | undefined {
  const outline = outlineWanted(doc);
  return outline ? cutOutOf(outlineOfCard(mask, outline, doc.material), mask) : undefined;
}

/** What of these maps no slot takes, as people call them. */
export function withoutSlot(maps: Iterable<MapName>): string[] {
  const placed = new Set<MapName>(['colour', 'mask', ...Object.values(MATERIAL_SLOTS).map((slot) => slot.map)]);
  return [...maps].filter((map) => !placed.has(map)).map((map) => mapKind(map).label);
}
