import type { GreenWay } from '../steps/maps/normal-from-picture.ts';
import type { AlphaMode } from '../piece/piece-doc.ts';
import type { MipFilter, Wrap } from '../sieve/mip-filters.ts';
import type { Mask, Picture, Raster, Samples } from '../raster/raster.ts';
import type { Target } from '../piece/target.ts';

/** A file as a target gets it. */
export interface ReceivedFile {
  name: string;
  bytes: Uint8Array;
  /** Which slot of the target it was put into: an artist does that by what the file is called. */
  as: 'colour' | 'mask' | 'normal' | 'scene' | 'other';
  /** What {map} of its name stands for. */
  slot: string;
  /** Whether a mask is distances from its outline. */
  isField?: boolean;
}

/** What a target has: the files, and what an artist sets beside them. */
export interface Received {
  files: readonly ReceivedFile[];
  material: { mode: AlphaMode; cutoff: number; opacity: number; doubleSided: boolean };
  target: Target;
  /** Which way green was written. */
  green: GreenWay;
  /** How it makes levels, where its own rule does not say otherwise; what lies beside a picture is as the material says. */
  makes: { filter: MipFilter; wrapAcross: Wrap; wrapDown: Wrap };
}

/** Decoders that are not the writer's, where there are others. */
export interface ReceiveTools {
  /** A picture and its levels, the largest first; one level where the file has no more. @throws SieveError, or any error of the decoder. */
  decode(bytes: Uint8Array, name: string): Promise<Raster<Samples>[]>;
}

/** What a target ends up with, from the files alone. */
export interface Shown {
  /** Null where nothing is to be seen. */
  colour: Picture | null;
  /** Alpha of every level, the largest first. */
  masks: Mask[];
  /** Byte at which those are clipped; 0: everything is kept. */
  threshold: number;
  /** Its normals, and which way this target takes their green: 1 up, −1 down; left out: none looked at. */
  normals?: { raster: Raster<Samples>; up: 1 | -1 };
  /** What its rule did here, a sentence. */
  did: string;
  /** What to do where it does not agree. */
  remedy: string;
  /** A change of the piece that does it. */
  fix?: Fix;
}

/** A change that mends what a receiver shows. */
export type Fix = { green: GreenWay };

/** A simulated importer: one strict rule. */
export interface Receiver {
  id: string;
  label: string;
  /** The rule, a sentence. */
  rule: string;
  /** Takes opacity as another rule does, and adds its own: what is wrong with opacity is not its to mend. */
  follows?: true;
  /** Whether the profile of the files is for such a target. */
  isMeant(received: Received): boolean;
  /** Whether there is anything it could read. */
  applies(received: Received): boolean;
  reads(received: Received, tools: ReceiveTools): Promise<Shown>;
}

/** What one receiver made of a hand-off, beside the Bench. */
export interface Verdict {
  id: string;
  label: string;
  rule: string;
  meant: boolean;
  agrees: boolean;
  /** What it shows, a sentence or two. */
  words: string;
  remedy: string;
  fix?: Fix;
  /** Shares kept of each level, 0–1. @remarks `side` is the longer one, texels. */
  levels: { side: number; bench: number; shown: number }[];
  /** Texels on the wrong side of the clip, of the largest level that both have. */
  wrongSide: number;
  /** Mean difference of the picture from afar, over grey, of 255. */
  difference: number;
  /** That picture: clipped, RGBA; null where nothing could be read. */
  picture: Picture | null;
}
