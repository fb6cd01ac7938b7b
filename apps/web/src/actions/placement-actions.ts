import {
  bareMesh,
  makeStep,
  placementOnFace,
  placementWithin,
  stepKind,
  toPlainError,
  UV_PLACEMENT,
  type MeshPlacement,
  type SurfaceHit,
  type Wrap,
} from '@lithe-sieve/core';
import { makeId } from '../document/ids';
import { useBenchStore } from '../stores/bench.store';
import { useBringInStore } from '../stores/bring-in.store';
import { useNoticesStore } from '../stores/notices.store';
import { useClip, useEngine, usePiece } from '../stores/open-piece/open-piece';

/** Changes of how the picture lies on a mesh. */
export function usePlacementActions() {
  const piece = usePiece();
  const engine = useEngine();
  const clip = useClip();
  const notices = useNoticesStore();
  const bench = useBenchStore();
  const bringIn = useBringInStore();

  const now = (): MeshPlacement => piece.doc?.mesh?.placement ?? UV_PLACEMENT;

  /** @param change - null: as the UVs say. */
  function preview(change: Partial<MeshPlacement> | null): void {
    piece.preview((doc) => {
      if (!doc.mesh) return doc;
      const { placement, ...mesh } = doc.mesh;
      return {
        ...doc,
        mesh: change ? { ...mesh, placement: placementWithin({ ...(placement ?? UV_PLACEMENT), ...change }) } : mesh,
      };
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

  /** Where the mesh lies in the picture, as a further source; as the mask, too, from the step that makes it on. */
  async function takeUvs(asMask: boolean): Promise<void> {
    const { id, doc } = piece;
    const stem = doc?.mesh?.fileName.replace(/\.[^.]*$/, '');
    try {
      const bytes = await clip.uvs();
      if (!bytes || !stem || piece.id !== id) return;
      const sourceId = await bringIn.asSource(new File([bytes.slice()], `${stem} uvs_mask.png`, { type: 'image/png' }));
      if (!sourceId || !asMask || piece.id !== id) return;
      const step = makeStep(makeId(), 'from-channel', { sourceId, channel: 'luminance' });
      piece.edit('The mask from the UVs of the mesh', (d) => {
        const last = d.run.findLastIndex((s) => stepKind(s.kind).pullsMask);
        return { ...d, run: d.run.toSpliced(last + 1, 0, step) };
      });
      bench.selection = { kind: 'step', id: step.id };
    } catch (error) {
      const { message, remedy } = toPlainError(error);
      notices.tell({ id: 'uvs', bad: true, text: message, remedy });
    }
  }

  return { now, preview, set, fitTo, takeUvs };
}
