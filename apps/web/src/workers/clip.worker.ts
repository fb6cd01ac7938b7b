import {
  levelFigures,
  makeLevels,
  maskMips,
  SieveError,
  summariseMask,
  thresholdByte,
  type Clip,
  type HeldLevel,
  type LevelFigures,
  type LevelSettings,
  type Mask,
  type MaskSummary,
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

/** The levels of a mask as the target will have them. */
export interface ClipResult {
  turn: number;
  levels: Mask[];
  summary: MaskSummary;
  /** Of held levels, how many texels are out of reach. */
  held: HeldLevel[] | null;
  /** From level 1, of plain levels and of these. */
  figures: { plain: LevelFigures[]; made: LevelFigures[] };
}

/** Computes what comes after the run: levels for a cutoff, beside the workers that compute the run. */
class ClipWorker {
  private newest: Int32Array = new Int32Array(1);

  /** @param newest - Shared: the newest turn; work for an older one gives up. */
  attach(newest: Int32Array): void {
    this.newest = newest;
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
      const threshold = thresholdByte(clip.cutoff, clip.opacity);
      const figures = {
        plain: levelFigures(mask, plain.length > 1 ? plain.slice(1) : maskMips(mask), threshold),
        made: levelFigures(mask, levels.slice(1), threshold),
      };
      return { turn, levels, summary: summariseMask(levels), held: held?.levels ?? null, figures };
    });
  }
}

export type ClipWorkerApi = ClipWorker;
Comlink.expose(new ClipWorker());
