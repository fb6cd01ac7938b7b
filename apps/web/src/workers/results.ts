import {
  doubtsOf,
  frameOf,
  histogram,
  mapMips,
  mapsOf,
  maskMips,
  MaskTally,
  stepKind,
  summariseMask,
  surfaceFacts,
  type Change,
  type Histogram,
  type Mask,
  type Picture,
  type RunResult,
  type StepEntry,
  type SurfaceFacts,
} from '@lithe-sieve/core';
import { makeId } from '../document/ids';
import { allocate } from './memory';
import type { Painting } from './painting';
import { stepThumb } from './thumbs';
import type { MapLevels, MapsResult, MaskResult, StepReport } from './types';

/** Texels of a level that shows as much as the full size, in a tenth of a second: the next stroke may be waiting. */
const ENOUGH_TEXELS = 512 * 512;

const noticesOf = ({ steps }: RunResult) =>
  Object.fromEntries(steps.flatMap((s) => (s.notice ? [[s.stepId, s.notice]] : [])));

/** What was said of the steps that are still to come. */
function toldBefore({ notices, doubts }: MapsResult, rest: readonly string[]): Pick<MapsResult, 'notices' | 'doubts'> {
  return {
    notices: Object.fromEntries(Object.entries(notices).filter(([id]) => rest.includes(id))),
    doubts: doubts.filter(({ stepId }) => rest.includes(stepId)),
  };
}

/** Makes of runs what the page shows, and makes again only what changed since the run before. */
export class Results {
  private mask: MaskResult | null = null;
  private maps: MapsResult | null = null;
  private tally: MaskTally | null = null;
  private readonly counts = new WeakMap<Mask, Histogram>();

  constructor(private readonly painting: Painting) {}

  /** @param scale - Texels here to one of the full size. */
  maskOf(result: RunResult, turn: number, scale: number): MaskResult {
    if (this.mask?.key === result.key) return { ...this.mask, turn, change: [] };
    const known = this.mask && this.mask.levels[0] === result.mask && !this.painting.paints(result.mask.data);
    const { levels, change } = known ? { levels: this.mask!.levels, change: [] } : this.levelsOf(result.mask);
    const found = Object.fromEntries(result.steps.flatMap((s) => (s.found ? [[s.stepId, s.found]] : [])));
    const notices = noticesOf(result);
    const counted = () => (this.tally?.chain === levels ? this.tally.summary() : summariseMask(levels));
    const summary = known ? this.mask!.summary : counted();
    const frame = frameOf(result, scale);
    this.mask = { key: result.key, turn, levels, frame, change, summary, found, notices };
    return this.mask;
  }

  /** In memory that strokes are painted into, only what they came to is looked at again. */
  private levelsOf(mask: Mask): { levels: Mask[]; change: Change } {
    const written = this.painting.takeWritten(mask);
    if (this.tally && this.tally.chain[0].data === mask.data && written !== 'whole') {
      this.tally.refresh(written);
      const shown = this.mask?.levels[0].data === mask.data;
      return { levels: this.tally.chain as Mask[], change: shown ? written : 'whole' };
    }
    const levels = [mask, ...maskMips(mask, allocate)];
    if (this.painting.paints(mask.data)) this.tally = new MaskTally(levels);
    return { levels, change: 'whole' };
  }

  /**
   * Every map but the mask; levels of a map that is the same raster as before are the same.
   *
   * @param checkpoint - Called before the levels of each map; throws to give up, and nothing has changed then.
   * @param rest - Steps that are still to come: what was said of them before stays meanwhile.
   * @param others - Whether earlier maps that the result lacks stay.
   */
  mapsOf(result: RunResult, checkpoint: () => void, rest: readonly string[] = [], others = false): MapsResult {
    const before = this.maps;
    const maps: MapLevels[] = [];
    for (const [map, raster] of mapsOf(result)) {
      if (map === 'mask') continue;
      checkpoint();
      const known = before?.maps.find((m) => m.map === map && m.levels[0] === raster);
      maps.push(known ?? { map, id: makeId(), levels: [raster, ...mapMips(map, raster, allocate)] });
    }
    if (before && others) {
      maps.push(...before.maps.filter(({ map }) => !maps.some((m) => m.map === map)));
    }
    const key = others ? `${result.key}, first` : result.key;
    const same = before?.maps.length === maps.length && maps.every((m, i) => m === before.maps[i]);
    const earlier = before && toldBefore(before, rest);
    const notices = { ...earlier?.notices, ...noticesOf(result) };
    const doubts = [...(earlier?.doubts ?? []), ...doubtsOf(result.steps)];
    if (!same) this.maps = { key, maps, notices, doubts };
    else if (key !== before.key) {
      this.maps = { ...before, key, notices, doubts };
    }
    return this.maps!;
  }

  /** Facts of the maps of the last result, from the largest levels that are small enough. */
  factsOf({ mask }: RunResult): SurfaceFacts | null {
    const { maps } = this.maps ?? { maps: [] };
    if (maps.length === 0) return null;
    const masks = this.mask?.levels[0] === mask ? this.mask.levels : [mask, ...maskMips(mask, allocate)];
    const at = Math.max(
      0,
      masks.findIndex((m) => m.width * m.height <= ENOUGH_TEXELS),
    );
    const small = new Map(maps.map(({ map, levels }) => [map, levels[at]] as const));
    const colour = small.get('colour') as Picture;
    small.delete('colour');
    return surfaceFacts(colour, masks[at], small);
  }

  stepsOf(result: RunResult, run: readonly StepEntry[]): StepReport[] {
    return result.steps.map((step, i) => ({
      stepId: step.stepId,
      error: step.error ?? null,
      thumb: stepThumb(step, stepKind(run[i].kind).stretch),
      counts: this.countsOf(step.mask),
    }));
  }

  /** A mask that a step handed on is counted once. */
  countsOf(mask: Mask): Histogram {
    let counts = this.counts.get(mask);
    if (!counts) this.counts.set(mask, (counts = histogram(mask)));
    return counts;
  }
}
