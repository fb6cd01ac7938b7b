export { FolderPieces } from './folder-pieces.ts';
export { grownAt } from './grown.ts';
export * from './hand-off.ts';
export { decodingBytes, handedOffTexels, handOffBytes, meshBytes, runBytesPerTexel, SMALL_BYTES } from './memory.ts';
export { deflateInStrips, nodePlatform } from './node-platform.ts';
export { filesOf, gatherHandOff, partsOf, strokeIdsOf, tipsOf, type PieceStore } from './piece-store.ts';
export { looksLikeMesh, readUserMesh } from './user-mesh.ts';
export type { TipFile, TipPictures } from './tip-pictures.ts';
