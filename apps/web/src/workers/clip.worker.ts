import {
  levelFigures,
  makeLevels,
  SieveError,
  storageFigures,
  summariseMask,
  thinnestConnection,
  thresholdByte,
  type Clip,
  type HeldLevel,
  type LevelFigures,
  type LevelSettings,
  type Mask,
  type MaskSummary,
  type Picture,
  type Storage,
  type StorageFigures,
} from '@lithe-sieve/core';
import * as Comlink from 'comlink';
import { answer } from './answer';
import { allocate } from './memory';
import type { Answer } from './types';

export interface ClipRequest {
  turn: number;
  /** The plain levels, level 0 first, in shared memory. */
  plain: Mask[];
  clip: Clip;
  settings: LevelSettings;
}

export interface StorageRequest {
  turn: number;
  colour: Picture;
  mask: Mask;
  clip: Clip;
  storage: Storage;
  exact: boolean;
}

/** The levels of a mask as the target will have them. */
export interface ClipResult {
  turn: number;
  levels: Mask[];
  summary: MaskSummary;
  /** Of held levels, how many texels are out of reach. */
  held: HeldLevel[] | null;
}

/** From level 1: of plain averages, and of the levels made. */
export interface ClipFigures {
  plain: LevelFigures[];
  made: LevelFigures[];
}

/** Computes what comes after the run: levels for a cutoff, beside the workers that compute the run. */
class ClipWorker {
  private last: { turn: number; plain: Mask[]; levels: Mask[]; threshold: number } | null = null;
  private newest: Int32Array = new Int32Array(3);

  /** @param newest - Shared: the newest turn of levels and of storages, and thousandths done of the latter; older work gives up. */
  attach(newest: Int32Array): void {
    this.newest = newest;
  }

  /** The alpha at which the thinnest connection of a mask breaks; see core. */
  thinnest(mask: Mask): Promise<Answer<number | null>> {
    return answer(() => thinnestConnection(mask));
  }

  /** What comes out of one way to store a piece. Its share done lies beside the newest turn, in thousandths. */
  storage({ turn, colour, mask, clip, storage, exact }: StorageRequest): Promise<Answer<StorageFigures>> {
    return answer(() => {
      const { cutoff, opacity } = clip;
      const progress = (share: number) => {
        Atomics.store(this.newest, 2, Math.round(1000 * share));
        if (Atomics.load(this.newest, 1) !== turn) throw new SieveError('cancelled', 'Overtaken.');
      };
      progress(0);
      const threshold = thresholdByte(cutoff, opacity);
      return storageFigures(colour, mask, storage, { cutoff, opacity, threshold, exact, progress });
    });
  }

  levels({ turn, plain, clip, settings }: ClipRequest): Promise<Answer<ClipResult>> {
    return answer(() => {
      const checkpoint = () => {
        if (Atomics.load(this.newest, 0) !== turn) throw new SieveError('cancelled', 'Overtaken.');
      };
      checkpoint();
      const [mask] = plain;
      const { levels, held } = makeLevels(mask, clip, settings, { allocate, checkpoint });
      checkpoint();
      this.last = { turn, plain, levels, threshold: thresholdByte(clip.cutoff, clip.opacity) };
      return { turn, levels, summary: summariseMask(levels), held: held?.levels ?? null };
    });
  }

  /** How the levels made last clip; null where they are of another turn. */
  figures(turn: number): ClipFigures | null {
    const { last } = this;
    if (last?.turn !== turn) return null;
    const [mask, ...averages] = last.plain;
    const [made, plain] = [last.levels.slice(1), averages].map((levels) => levelFigures(mask, levels, last.threshold));
    return { plain, made };
  }
}

export type ClipWorkerApi = ClipWorker;
Comlink.expose(new ClipWorker());
