import type { AlphaMode } from '../piece/piece-doc.ts';

/** What a scene file says of the clip, read without what wrote it. */
export interface SceneSays {
  mode: AlphaMode;
  cutoff: number;
  /** Multiplies alpha. */
  opacity: number;
  /** Null: its format has no word for it. */
  doubleSided: boolean | null;
  /** File of the colour; null: none. */
  colour: string | null;
  /** Where opacity comes from; null: from nowhere, all is kept. */
  alpha: { file: string; channel: 'alpha' | 'luminance' } | null;
  /** Every file that it names. */
  files: readonly string[];
}
