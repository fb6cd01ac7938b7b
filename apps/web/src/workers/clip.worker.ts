import {
  colourLevels,
  drawClip,
  fringeOf,
  histogram,
  isSieveError,
  levelFigures,
  makeLevels,
  methodFigures,
  outlineChanged,
  partOutlineChanged,
  handCutLoses,
  cutOfCard,
  outlinesOfCard,
  SieveError,
  sampleSilhouette,
  silhouetteSide,
  storageFigures,
  storedLevels,
  summariseMask,
  thinnestConnection,
  thresholdByte,
  uvMask,
  whatBreaks,
  writePng,
  type CardCut,
  type CardOutline,
  type CardRegion,
  type Clip,
  type ClipDrawing,
  type CornerChange,
  type Effort,
  type Fringe,
  type HeldLevel,
  type LevelBreaks,
  type LevelFigures,
  type LevelSettings,
  type Mask,
  type Material,
  type MaskSummary,
  type MethodFigures,
  type RegionOutline,
  type Picture,
  type Silhouette,
  type Storage,
  type StorageFigures,
  type StoredLevels,
  type StoreOptions,
  type SurfaceMesh,
  type Wrap,
  fieldLoss,
  type FieldDivisor,
  type FieldLoss,
} from '@lithe-sieve/core';
import * as Comlink from 'comlink';
import { answer } from './answer';
import { beat } from './beat';
import { deflateHere } from './deflate-here';
import { allocate } from './memory';
import { HEARTBEAT, SHARED_BYTES } from './shared-places';
import type { Answer } from './types';

export interface ClipRequest {
  turn: number;
  /** The plain levels, level 0 first, in shared memory. */
  plain: Mask[];
  clip: Clip;
  settings: LevelSettings;
  drawn: ClipDrawing;
  /** Those that replace levels. */
  sources: ReplacingSources;
}

export type ReplacingSources = ReadonlyMap<string, Picture>;

export interface OutlineRequest {
  /** Full size. */
  mask: Mask;
  /** Of that mask: what is known of another one is of no use. */
  of: string;
  outline: CardOutline;
  material: Material;
  /** The parts of an atlas that cards show; none: all of it. */
  regions: CardRegion[];
}
export interface UvRequest {
  mesh: Pick<SurfaceMesh, 'uvs' | 'indices'>;
  size: { width: number; height: number };
  wraps: { across: Wrap; down: Wrap };
}

/** An outline, and how many kept texels lie outside it: none but where it was set by hand. */
export interface OutlineMade extends CardCut {
  outside: number;
}

/** A change by hand of an outline as it is shown. */
export interface OutlineChange extends OutlineRequest {
  shown: CardCut;
  change: CornerChange;
}

/** What of an outline is set by hand then. */
export type ChangedOutline = Pick<CardOutline, 'byHand' | 'parts'>;

export type OutlineCurve = ReturnType<typeof outlinesOfCard>;

export interface StorageRequest {
  turn: number;
  colour: Picture;
  mask: Mask;
  clip: Clip;
  storage: Storage;
  exact: boolean;
  effort?: Effort | undefined;
}

type StoreHow = Pick<StorageRequest, 'turn' | 'clip' | 'exact' | 'effort'>;

export interface ColoursRequest {
  colour: Picture;
  mask: Mask;
  levels: LevelSettings;
  sources: ReplacingSources;
}

export interface StoredRequest extends Omit<StorageRequest, 'colour' | 'mask'> {
  /** Level 0 first. */
  colours: Picture[];
  masks: Mask[];
}

/** The levels of a mask as the target will have them. */
export interface ClipResult {
  turn: number;
  levels: Mask[];
  summary: MaskSummary;
  /** For held levels, how many texels are out of reach. */
  held: HeldLevel[] | null;
  /** Each level as it is drawn, where that is not hard. */
  drawn: DrawnLevel[] | null;
}

export interface DrawnLevel {
  /** Share of all pixels, 0–1. */
  covered: number;
  /** Small, its samples the coverage of single pixels. */
  silhouette: Silhouette;
}

/** From level 1: of plain averages, and of the levels made. */
export interface ClipFigures {
  plain: LevelFigures[];
  made: LevelFigures[];
}

/** Computes what comes after the run: levels for a cutoff, beside the workers that compute the run. */
class ClipWorker {
  private last: { turn: number; plain: Mask[]; levels: Mask[]; threshold: number } | null = null;
  /** Outlines of parts of the last mask. */
  private ofParts = { of: '', known: new Map<string, RegionOutline>() };
  private newest: Int32Array = new Int32Array(3);
  private alive: Int32Array = new Int32Array(SHARED_BYTES / 4);

  /**
   * @param newest - Shared: the newest turn of levels and of storages, and thousandths done of the latter; older work gives up.
   * @param alive - Shared, see {@link beat}.
   */
  attach(newest: Int32Array, alive: Int32Array): void {
    this.newest = newest;
    this.alive = alive;
    beat(alive);
  }

  /** The alpha at which the thinnest connection of a mask breaks; see core. */
  thinnest(mask: Mask): Promise<Answer<number | null>> {
    return answer(() => thinnestConnection(mask));
  }

  /** The soft edge of a mask; see core. */
  fringe(mask: Mask, threshold: number): Promise<Answer<Fringe | null>> {
    return answer(() => fringeOf(mask, threshold));
  }

  /** What becomes of a clip as distances; see core. */
  field(mask: Mask, threshold: number, divisor: FieldDivisor): Promise<Answer<FieldLoss>> {
    return answer(() => fieldLoss(mask, threshold, divisor));
  }

  /** The outline that a card is cut to; see core. */
  outline({ mask, of, outline, material, regions }: OutlineRequest): Promise<Answer<OutlineMade>> {
    return answer(() => {
      if (this.ofParts.of !== of) this.ofParts = { of, known: new Map() };
      const made = cutOfCard(mask, outline, material, regions, this.ofParts.known);
      return { ...made, outside: handCutLoses(mask, outline, material, regions) };
    });
  }

  /** The outline with a corner changed by hand, as far as it may be; null where it may not. */
  outlineChanged(request: OutlineChange): Promise<Answer<ChangedOutline | null>> {
    const { mask, outline, material, regions, shown, change } = request;
    return answer(() => {
      if (regions.length > 0) {
        const parts = partOutlineChanged(mask, shown, outline, material, regions, change);
        return parts && { parts };
      }
      const byHand = outlineChanged(mask, shown.outline, outline, material, change);
      return byHand && { byHand };
    });
  }

  /** Where a mesh lies in its picture, as a PNG of one channel. */
  uvs({ mesh, size, wraps }: UvRequest): Promise<Answer<Uint8Array>> {
    return answer(() => writePng(uvMask(mesh, size, wraps, { allocate }), deflateHere));
  }

  /** Outlines of few to many corners. */
  outlines({ mask, outline, material }: OutlineRequest): Promise<Answer<OutlineCurve>> {
    return answer(() => outlinesOfCard(mask, outline, material));
  }

  /** What comes out of one way to store a piece. Its share done lies beside the newest turn, in thousandths. */
  storage({ colour, mask, storage, ...how }: StorageRequest): Promise<Answer<StorageFigures>> {
    return answer(() => storageFigures(colour, mask, storage, this.storeOptions(how)));
  }

  /** Every level of a piece as it is read out of a way to store it. */
  stored({ colours, masks, storage, ...how }: StoredRequest): Promise<Answer<StoredLevels>> {
    return answer(() => storedLevels(colours, masks, storage, this.storeOptions(how)));
  }

  private storeOptions({ turn, clip, exact, effort }: StoreHow): StoreOptions {
    const { cutoff, opacity } = clip;
    const progress = (share: number) => {
      Atomics.store(this.newest, 2, Math.round(1000 * share));
      Atomics.add(this.alive, HEARTBEAT, 1);
      if (Atomics.load(this.newest, 1) !== turn) throw new SieveError('cancelled', 'Overtaken.');
    };
    progress(0);
    return { cutoff, opacity, threshold: thresholdByte(cutoff, opacity), exact, effort, progress };
  }

  /** The colour of levels of our own. */
  colours(turn: number, { colour, mask, levels, sources }: ColoursRequest): Promise<Answer<Picture[]>> {
    return answer(() => {
      this.goOn(turn);
      return colourLevels(colour, mask, { levels }, { allocate, sourceOf: (id) => sources.get(id) ?? null });
    });
  }

  levels({ turn, plain, clip, settings, drawn, sources }: ClipRequest): Promise<Answer<ClipResult>> {
    return answer(() => {
      const checkpoint = () => this.goOn(turn);
      checkpoint();
      const [mask] = plain;
      const { levels, held } = makeLevels(mask, clip, settings, {
        allocate,
        checkpoint,
        sourceOf: (id) => sources.get(id) ?? null,
      });
      checkpoint();
      this.last = { turn, plain, levels, threshold: thresholdByte(clip.cutoff, clip.opacity) };
      const pictures =
        clip.mode === 'mask' && drawn.by !== 'hard' ? levels.map((l, i) => draw(l, i, clip, drawn)) : null;
      checkpoint();
      return { turn, levels, summary: summariseMask(levels), held: held?.levels ?? null, drawn: pictures };
    });
  }

  /** How the levels made last clip; null where they are of another turn. */
  figures(turn: number): ClipFigures | null {
    const { last } = this;
    if (last?.turn !== turn) return null;
    const [mask, ...averages] = last.plain;
    try {
      const [made, plain] = [last.levels.slice(1), averages].map((levels) =>
        levelFigures(mask, levels, last.threshold, () => this.goOn(turn)),
      );
      return { plain, made };
    } catch (error) {
      if (isSieveError(error, 'cancelled')) return null;
      throw error;
    }
  }

  /** What another way to make the levels would come to. */
  method(
    { turn, mask, clip, settings }: { turn: number; mask: Mask; clip: Clip; settings: LevelSettings },
    method: Partial<LevelSettings>,
  ) {
    return answer((): MethodFigures | null =>
      methodFigures(mask, clip, settings, method, { checkpoint: () => this.goOn(turn) }),
    );
  }

  /** What breaks on the levels made last; null where they are of another turn. */
  breaks(turn: number): Promise<Answer<LevelBreaks[] | null>> {
    const { last } = this;
    return answer(() => (last?.turn === turn ? whatBreaks(last.levels, last.threshold, () => this.goOn(turn)) : null));
  }

  /** @throws SieveError `cancelled` where levels were asked for since. */
  private goOn(turn: number): void {
    Atomics.add(this.alive, HEARTBEAT, 1);
    if (Atomics.load(this.newest, 0) !== turn) throw new SieveError('cancelled', 'Overtaken.');
  }
}

function draw(level: Mask, i: number, clip: Clip, drawn: ClipDrawing): DrawnLevel {
  const picture = drawClip(level, clip, drawn);
  const sum = histogram(picture).reduce((total, count, v) => total + count * v, 0);
  return { covered: sum / 255 / picture.data.length, silhouette: sampleSilhouette(picture, silhouetteSide(i)) };
}

export type ClipWorkerApi = ClipWorker;
Comlink.expose(new ClipWorker());
