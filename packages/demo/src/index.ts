export { DEMO_PIECES, DEMO_SIZE, type DemoPiece } from './pieces.ts';
export { DEMO_ATLASES, type DemoAtlas } from './atlases.ts';
export { DEMO_CARDS } from './cards.ts';
export { leafMeshObj } from './leaf-mesh.ts';
export { drawLeafScan } from './leaf.ts';
export { drawCordgrass } from './cordgrass.ts';
export { drawMane } from './mane.ts';
export { drawCrabNet } from './net.ts';
export type { Drawn } from './drawn.ts';
