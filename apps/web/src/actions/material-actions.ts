import type { AlphaMode, ClipDrawing, Material } from '@lithe-sieve/core';
import { usePiece } from '../stores/open-piece/open-piece';

export const MODES: AlphaMode[] = ['opaque', 'mask', 'blend'];

/** Changes of the material, by tray, by the handle of the Sieve and by keys. */
export function useMaterialActions() {
  const piece = usePiece();

  function preview(values: Partial<Material>): void {
    piece.preview((doc) => ({ ...doc, material: { ...doc.material, ...values } }));
  }

  function set(values: Partial<Material>, what: string): void {
    preview(values);
    piece.finish(`Material: ${what}`);
  }

  function setDrawn(values: Partial<ClipDrawing>, what: string): void {
    piece.preview((doc) => ({ ...doc, drawn: { ...doc.drawn, ...values } }));
    piece.finish(`Clip drawn: ${what}`);
  }

  /** Ends a drag of the cutoff. @param keep - Else it was taken back. */
  function endCutoff(keep: boolean): void {
    if (keep) piece.finish(`Material: cutoff ${piece.material?.cutoff}`);
    else piece.abandon();
  }

  const setCutoff = (cutoff: number) => set({ cutoff }, `cutoff ${cutoff}`);

  function nudgeCutoff(by: number): void {
    const now = piece.material?.cutoff;
    if (now !== undefined) setCutoff(Math.min(1, Math.max(0, Math.round((now + by) * 1000) / 1000)));
  }

  function nextMode(): void {
    const now = piece.material?.mode;
    if (!now) return;
    const mode = MODES[(MODES.indexOf(now) + 1) % MODES.length];
    set({ mode }, mode);
  }

  function toggleSides(): void {
    const now = piece.material?.doubleSided;
    if (now !== undefined) set({ doubleSided: !now }, now ? 'one side' : 'two sides');
  }

  return { preview, set, setDrawn, setCutoff, endCutoff, nudgeCutoff, nextMode, toggleSides };
}
