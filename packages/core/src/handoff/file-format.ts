import type { SlottedMesh } from '../card/mesh/user-mesh.ts';
import type { DecodedPicture } from '../codec/picture.ts';
import type { PieceView } from '../material/piece-view.ts';
import type { NameFacts } from '../piece/naming.ts';
import type { PieceDoc } from '../piece/piece-doc.ts';
import type { PictureExtension } from '../piece/packing.ts';
import type { MapName } from '../raster/maps.ts';
import type { Raster, Samples } from '../raster/raster.ts';
import type { RunState } from '../raster/run-state.ts';
import type { PartPicture } from '../recipe/grow.ts';
import type { SourceOf } from '../sieve/own-levels.ts';
import type { FilePlan, PicturePlan } from './file-plan.ts';
import type { GlbTools } from './glb-tools.ts';

export interface PackTools {
  /** @param isColour - Else it is data, which no file may call sRGB. */
  encode(raster: Raster<Samples>, extension: PictureExtension, isColour: boolean): Promise<Uint8Array>;
  decode(bytes: Uint8Array): Promise<DecodedPicture>;
  encodePng(raster: Raster<Samples>): Promise<Uint8Array>;
  decodePng(bytes: Uint8Array): Promise<DecodedPicture>;
  glb: GlbTools;
  /** Sources of the piece, for levels that it replaces. */
  sourceOf?: SourceOf;
  /** The piece's mesh, where it lies on one. */
  mesh?: SlottedMesh | null;
  /** Pictures of the parts that its recipe is grown from. */
  partOf?: PartPicture;
  /** What names may say of the hand-off. */
  facts?: NameFacts;
  progress?(share: number, doing: string): void;
}

/** One thing looked at in one written file. */
export interface Check {
  file: string;
  what: string;
  ok: boolean;
  found: string;
}
export type Add = (what: string, ok: boolean, found: string) => void;

/** Beside a file that is read back: the others, as they were read from where they were written. */
export type CheckTools = PackTools & { beside: (name: string) => Uint8Array | null };

/** What a file is written of. */
export interface Packed {
  doc: PieceDoc;
  state: RunState;
  /** Pictures that are written beside it, and the name of a file of another extension. */
  pictures: readonly { plan: PicturePlan; name: string }[];
  nameOf: (extension: FilePlan['extension']) => string;
  /** As scenes have it; made once for all files that ask. */
  view: () => PieceView;
}

/** A file in memory, and how it is read again. */
export interface Written {
  bytes: Uint8Array;
  /** Where more can be said than the plan does. */
  contents?: string;
  /** Compares what is read out of such bytes with what was to be written. @throws where they are no such file. */
  check(bytes: Uint8Array, doc: PieceDoc, tools: CheckTools, add: Add): Promise<void> | void;
}

/** What the size of a file follows from: textures of any rows of the run, or the bytes themselves; null: a few. */
export type Estimate =
  { bytes: number | null } | { height: number; textures: (from: number, to: number) => (Raster<Samples> | null)[] };

/** How one kind of file is written, read back, and said beforehand. */
export interface FileFormat<P extends FilePlan> {
  /** @returns null where the run makes nothing for it. */
  write(plan: P, piece: Packed, tools: PackTools, progress: (share: number) => void): Promise<Written | null>;
  /** Whether a run that makes these maps writes it. */
  isWritten(plan: P, maps: ReadonlySet<MapName>): boolean;
  /** What of these maps it has no place for, as people call them. */
  leavesOut(plan: P, maps: ReadonlySet<MapName>, doc: PieceDoc): string[];
  /** The picture that it holds, of a run of any size; its colour with alpha where it holds several; null: none. */
  picture(plan: P, state: RunState, doc: Pick<PieceDoc, 'material' | 'handOff'>): Raster<Samples> | null;
  /** Bytes of its textures on a graphics card, with mip levels. @param size - Of the whole. @param state - Of any size. */
  onCard(plan: P, size: { width: number; height: number }, state: RunState): number;
  estimate(plan: P, state: RunState, rowsOf: RowsOf, doc: Pick<PieceDoc, 'sides'>): Estimate;
}

/** Of a file that holds no picture, whatever the run makes. */
export const WITHOUT_PICTURE = {
  isWritten: () => true,
  leavesOut: () => [],
  picture: () => null,
  onCard: () => 0,
  estimate: () => ({ bytes: null }),
};

/** Some rows of a run, as a run. */
export type RowsOf = (from: number, to: number) => RunState;
