import type { CardMesh } from '../card/mesh/card-mesh.ts';
import { PLACEMENT_RANGES, placementWithin, UV_PLACEMENT, type MeshPlacement } from '../card/mesh/placement.ts';
import type { PieceDoc } from './piece-doc.ts';

/** Metres that a card may be wide. */
const WIDTH = { min: 0.01, max: 100 } as const;

/**
 * A piece with its mesh read otherwise, or laid on one: its longest side becomes the width of the card, which the Stand
 * measures by, and what was measured on a face in metres is measured again.
 *
 * @param size - Of the mesh, in the unit of its file.
 */
export function laidOnMesh(doc: PieceDoc, mesh: CardMesh, size: readonly number[]): PieceDoc {
  const width = Math.max(...size) * mesh.metres;
  const cardWidth = Math.min(WIDTH.max, Math.max(WIDTH.min, Number(width.toPrecision(4))));
  const before = doc.mesh ? doc.mesh.cardWidth : doc.cardWidth;
  const laid = doc.mesh ? rescaled(mesh, mesh.metres / doc.mesh.metres) : mesh;
  return { ...doc, mesh: { ...laid, ...(before !== undefined && { cardWidth: before }) }, cardWidth };
}

/** Back on its card, as wide as that was. */
export function offMesh({ mesh, ...doc }: PieceDoc): PieceDoc {
  return mesh?.cardWidth === undefined ? doc : { ...doc, cardWidth: mesh.cardWidth };
}

function rescaled({ placement, ...mesh }: CardMesh, by: number): CardMesh {
  if (!placement) return mesh;
  if (!isFitted(placement)) return { ...mesh, placement };
  const [[across, down], plane] = [placement.size, placement.plane];
  const scaled = plane.map((v) => v * by) as MeshPlacement['plane'];
  if (scaled.some((v) => Math.abs(v) > PLACEMENT_RANGES.plane)) return mesh; // as its UVs say
  return { ...mesh, placement: placementWithin({ ...placement, size: [across * by, down * by], plane: scaled }) };
}

/** Whether lengths of a placement are metres on a face, not shares of the UVs. */
export function isFitted({ plane }: MeshPlacement): boolean {
  return plane.some((v, i) => v !== UV_PLACEMENT.plane[i]);
}
