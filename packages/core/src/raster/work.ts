import type { Allocate } from './raster.ts';

/** What computing over a whole picture asks of its host. */
export interface Work {
  /** Texels here to one texel of the full size: 1, or less where the run is computed at view size. */
  readonly scale: number;
  allocate: Allocate;
  /** Reports the share done, 0–1; the host may cancel by throwing. For work that does not go row by row. */
  checkpoint(share: number): void;
  /** Calls `work` for bands of rows from top to bottom; between bands the host may cancel by throwing. */
  bands(height: number, work: (fromRow: number, toRow: number) => void): void;
}
