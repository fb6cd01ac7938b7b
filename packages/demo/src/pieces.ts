import { makeStep, type Mask, type Raster, type StepEntry } from '@lithe-sieve/core';
import { drawCordgrass } from './cordgrass.ts';
import { drawLeafScan } from './leaf.ts';
import { drawMane } from './mane.ts';
import { drawCrabNet } from './net.ts';

export interface DemoPiece {
  name: string;
  /** Metres. */
  cardWidth: number;
  files: { fileName: string; raster: Raster }[];
  /** Steps behind those that the piece starts with. */
  more?: (makeId: () => string) => StepEntry[];
  /** What the mask of the run should come to. */
  mask: Mask;
}

export const DEMO_SIZE = 2048;
/** Side of those that show maps and fit. */
const SMALL = 1024;

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
      name: 'Cordgrass over a dark matte',
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
  () => {
    const { colour, mask } = drawLeafScan(2206, SMALL);
    return {
      name: 'Leaf with all its maps',
      cardWidth: 0.12,
      files: [{ fileName: 'aster_leaf_b.png', raster: colour }],
      more: (makeId) => [
        makeStep(makeId(), 'height-from-edge', { width: 90 }),
        makeStep(makeId(), 'height-from-veins', { lift: 0.6, width: 5 }),
        makeStep(makeId(), 'height-from-picture', { blend: 'add', weight: 0.35, large: 0, detail: 1.5 }),
        makeStep(makeId(), 'normal-from-height', { depth: 2.5 }),
        makeStep(makeId(), 'roughness'),
        makeStep(makeId(), 'occlusion', { depth: 2.5, reach: 48 }),
        makeStep(makeId(), 'translucency', { full: 70 }),
        makeStep(makeId(), 'bleed-maps'),
      ],
      mask,
    };
  },
  () => {
    const { colour, mask } = drawLeafScan(3017, SMALL);
    return {
      name: 'Leaf on its diagonal',
      cardWidth: 0.12,
      files: [{ fileName: 'aster_leaf_c.png', raster: colour }],
      more: (makeId) => [makeStep(makeId(), 'turn-to-fit', { size: 1024 })],
      mask,
    };
  },
  () => {
    const { colour, mask } = drawCrabNet(58, SMALL);
    return {
      name: 'Crab net that tiles',
      cardWidth: 0.4,
      files: [{ fileName: 'crab_net.png', raster: colour }],
      more: (makeId) => [
        makeStep(makeId(), 'height-from-edge', { width: 9 }),
        makeStep(makeId(), 'normal-from-height', { depth: 4 }),
        makeStep(makeId(), 'make-tileable', { overlap: 400 }),
      ],
      mask,
    };
  },
];
