import type { Mask, Raster } from '@lithe-sieve/core';
import { drawCordgrass } from './cordgrass.ts';
import { drawLeafScan } from './leaf.ts';
import { drawMane } from './mane.ts';

export interface DemoPiece {
  name: string;
  /** Metres. */
  cardWidth: number;
  files: { fileName: string; raster: Raster }[];
  /** What the run should come to. */
  mask: Mask;
}

export const DEMO_SIZE = 2048;

/** The pieces of the saltmarsh boardwalk, drawn one at a time since each takes some seconds. */
export const DEMO_PIECES: readonly (() => DemoPiece)[] = [
  () => {
    const { colour, mask } = drawLeafScan(1871, DEMO_SIZE);
    return {
      name: 'Sea-aster leaf',
      cardWidth: 0.12,
      files: [{ fileName: 'sea_aster_scan.png', raster: colour }],
      mask,
    };
  },
  () => {
    const { colour, mask } = drawCordgrass(412, DEMO_SIZE);
    return {
      name: 'Cordgrass card',
      cardWidth: 0.9,
      files: [{ fileName: 'cordgrass.png', raster: colour }],
      mask,
    };
  },
  () => {
    const { colour, mask } = drawMane(77, DEMO_SIZE);
    return {
      name: 'Pony’s mane',
      cardWidth: 0.35,
      files: [
        { fileName: 'mane_colour.png', raster: colour },
        { fileName: 'mane_mask.png', raster: mask },
      ],
      mask,
    };
  },
];
