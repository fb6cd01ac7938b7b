import {
  bareMesh,
  placementOnFace,
  toPlainError,
  UV_PLACEMENT,
  type MeshPlacement,
  type SurfaceHit,
  type Wrap,
} from '@lithe-sieve/core';
import { useNoticesStore } from '../stores/notices.store';
import { useClip, useEngine, usePiece } from '../stores/open-piece/open-piece';

/** Changes of how the picture lies on a mesh. */
export function usePlacementActions() {
  const piece = usePiece();
  const engine = useEngine();
  const clip = useClip();
  const notices = useNoticesStore();

  const now = (): MeshPlacement => piece.doc?.mesh?.placement ?? UV_PLACEMENT;

  /** @param change - null: as the UVs say. */
  function preview(change: Partial<MeshPlacement> | null): void {
    piece.preview((doc) => {
      if (!doc.mesh) return doc;
      const { placement, ...mesh } = doc.mesh;
      return { ...doc, mesh: change ? { ...mesh, placement: { ...(placement ?? UV_PLACEMENT), ...change } } : mesh };
    });
  }

  function set(change: Partial<MeshPlacement> | null, what: string): void {
    preview(change);
    piece.finish(`Picture on the mesh: ${what}`);
  }

  /** Lays the picture once on the face that is pointed at: beyond its sides their texels go on. */
  function fitTo(hit: SurfaceHit): void {
    const own = piece.doc?.mesh;
    if (!own || !clip.mesh || !engine.size) return;
    const aspect = engine.size.width / engine.size.height;
    try {
      const placement = placementOnFace(
        bareMesh(clip.mesh.mesh, own, { sides: piece.doc?.sides }).mesh,
        hit.triangle,
        aspect,
        hit.side,
      );
      const wrap: Wrap = 'clamp';
      piece.preview((doc) => ({ ...doc, levels: { ...doc.levels, wrapAcross: wrap, wrapDown: wrap } }));
      set(placement, 'fitted to a face');
    } catch (error) {
      const { message, remedy } = toPlainError(error);
      notices.tell({ id: 'placement', bad: true, text: message, remedy });
    }
  }

  return { now, preview, set, fitTo };
}
