import { shrink, halvingsTo } from '../raster/shrink.ts';
import { makePicture, type Mask, type Picture, type Raster, type Samples } from '../raster/raster.ts';
import { coverageAt, histogram } from '../sieve/histogram.ts';
import type { AlphaMode } from '../piece/piece-doc.ts';
import type { Receiver, Shown, Verdict } from './receiver.ts';

/** What a piece shows on the Bench. */
export interface BenchLook {
  colour: Picture;
  /** Alpha of every level, the largest first. */
  masks: readonly Mask[];
  /** As glTF 2.0 clips; 0: all is kept. */
  threshold: number;
  mode: AlphaMode;
  /** Normals, green up; null where the run makes none. */
  normals: Raster<Samples> | null;
  /** From afar, as {@link afar} draws it. */
  picture: Picture;
}

/** Levels smaller than this on their longer side are a dot on the screen: nothing is judged by them. */
const SMALLEST_JUDGED = 16;
/** Share of a level that may be kept more or less, and of what is kept: of a few hairs a hundredth is all there is. */
const SLACK = 0.01;
const SLACK_OF_KEPT = 0.1;
/** Share of all texels that may be on the wrong side. @param kept - Share that is kept. */
export const slackOf = (kept: number) => Math.min(SLACK, SLACK_OF_KEPT * kept);
/** Of 255, in mode blend, where nothing is clipped. */
const BLEND_SLACK = 2;
/** Longest side of the picture from afar, texels. */
const PICTURE_SIDE = 256;
const GREY = 118;

const percent = (share: number) => `${(100 * share).toFixed(1)} %`;
const points = (share: number) => `${(100 * Math.abs(share)).toFixed(1)} points ${share > 0 ? 'more' : 'less'}`;

/** What a receiver shows, beside the Bench. @param isMeant - Whether the hand-off is for such a target. */
export function judge(receiver: Receiver, meant: boolean, shown: Shown, bench: BenchLook): Verdict {
  const levels = levelsOf(shown, bench);
  const wrong = wrongSide(shown, bench);
  const picture = afar(shown.colour ?? bench.colour, shown.masks, shown.threshold, bench.mode);
  const turned = shown.normals && bench.normals ? reliefOf(shown.normals, bench.normals) < 0 : false;
  const difference = differenceOf(picture, bench.picture);
  const off = levels.find(({ bench: is, shown: has }) => Math.abs(has - is) > slackOf(is));
  const isWrong = wrong.share > slackOf(levels[0]?.bench ?? 0);
  const blends = bench.mode !== 'blend' || difference <= BLEND_SLACK;
  // a rule about normals is no second judgement of the clip
  const agrees = shown.normals ? !turned : off === undefined && !isWrong && blends;
  const isOverturned = isWrong && isTurnedOver(shown, bench);
  const isFar = off !== undefined && off !== levels[0] && !isWrong;
  const remedy = receiver.follows && isOverturned ? MEND_FIRST : isFar && !shown.normals ? MEND_LEVELS : shown.remedy;
  const { id, label, rule } = receiver;
  return {
    ...{ id, label, rule, meant, agrees, levels },
    words: `${shown.did} ${shown.normals ? (turned ? SUNK : RAISED) : wordsOf(levels, off, { ...wrong, isWrong, isOverturned, blends })}`,
    remedy: agrees ? '' : remedy,
    ...(shown.fix && !agrees ? { fix: shown.fix } : {}),
    wrongSide: wrong.texels,
    difference,
    picture,
  };
}

/** Of a receiver that reads nothing. */
export function refusedBy({ id, label, rule }: Receiver, meant: boolean, why: string): Verdict {
  return {
    ...{ id, label, rule, meant, agrees: false, levels: [], wrongSide: 0, difference: 0, picture: null },
    words: `It refuses the files: ${why}`,
    remedy: 'Write the files again; if it stays so, choose another profile.',
  };
}

const MEND_FIRST = 'Mend first where opacity is taken from.';
const MEND_LEVELS = 'Hold the clip at distance on the Bench for how the target averages, or hand off levels in a DDS.';
const RAISED = 'What is raised looks raised.';
const SUNK = 'What is raised looks sunk.';

function wordsOf(
  levels: Verdict['levels'],
  off: Verdict['levels'][number] | undefined,
  {
    texels,
    isWrong,
    isOverturned,
    blends,
  }: { texels: number; isWrong: boolean; isOverturned: boolean; blends: boolean },
): string {
  const [first] = levels;
  if (!first) return 'It has no level of a size that the Bench has.';
  if (isOverturned) return 'White and black are swapped: what is dropped shows.';
  if (off === first || isWrong) {
    if (first.shown === 1 && first.bench < 1) return 'The whole card shows, nothing is clipped.';
    if (first.shown === 0 && first.bench > 0) return 'Nothing shows at all.';
    return `${percent(first.shown)} kept instead of ${percent(first.bench)}; ${texels} texels on the wrong side.`;
  }
  if (off) return `As on the Bench near by; ${points(off.shown - off.bench)} kept at ${off.side}.`;
  if (!blends) return 'Its edges are more, or less, transparent than on the Bench.';
  return `As on the Bench: ${percent(first.shown)} kept${levels.length > 1 ? ', and at each level' : ''}.`;
}

/** Levels of equal size, as far as they are judged. */
function levelsOf({ masks, threshold }: Shown, bench: BenchLook): Verdict['levels'] {
  const out: Verdict['levels'] = [];
  for (const mask of masks) {
    const side = Math.max(mask.width, mask.height);
    const own = bench.masks.find((m) => m.width === mask.width && m.height === mask.height);
    if (!own || (side < SMALLEST_JUDGED && out.length > 0)) continue;
    out.push({
      side,
      bench: shareOf(own, bench.threshold, bench.mode),
      shown: shareOf(mask, threshold, bench.mode),
    });
  }
  return out;
}

/** Share kept; of a blend, how opaque it is in the mean. */
function shareOf(mask: Mask, threshold: number, mode: AlphaMode): number {
  if (threshold === 0) return 1;
  const counts = histogram(mask);
  if (mode !== 'blend') return coverageAt(counts, threshold);
  return counts.reduce((sum, n, alpha) => sum + n * alpha, 0) / (255 * mask.data.length);
}

/** Where a texel changes side; of a blend, half way. */
const sideOf = (threshold: number, mode: AlphaMode) => (mode === 'blend' && threshold > 0 ? 128 : threshold);

/** Texels of the largest level that both have. */
function wrongSide({ masks, threshold }: Shown, bench: BenchLook): { texels: number; share: number } {
  const pair = pairOf(masks, bench.masks);
  if (!pair) return { texels: 0, share: 1 };
  const [has, is] = pair;
  const [there, here] = [sideOf(threshold, bench.mode), sideOf(bench.threshold, bench.mode)];
  let texels = 0;
  for (let i = 0; i < has.length; i++) if (has[i] >= there !== is[i] >= here) texels++;
  return { texels, share: texels / has.length };
}

function isTurnedOver({ masks, threshold }: Shown, bench: BenchLook): boolean {
  const pair = pairOf(masks, bench.masks);
  if (!pair) return false;
  const [has, is] = pair;
  const [there, here] = [sideOf(threshold, bench.mode), sideOf(bench.threshold, bench.mode)];
  let right = 0;
  for (let i = 0; i < has.length; i++) if (255 - has[i] >= there === is[i] >= here) right++;
  return right / has.length > 1 - SLACK;
}

function pairOf(a: readonly Mask[], b: readonly Mask[]): [Uint8Array, Uint8Array] | null {
  for (const one of a) {
    const other = b.find((m) => m.width === one.width && m.height === one.height);
    if (other) return [one.data, other.data];
  }
  return null;
}

/** Clipped, as it is seen where a texel of a small level is a pixel. */
export function afar(colour: Picture, masks: readonly Mask[], threshold: number, mode: AlphaMode): Picture {
  const small = shrink(colour, halvingsTo(PICTURE_SIDE, colour), 'colour');
  const mask = masks.find((m) => m.width <= small.width && m.height <= small.height) ?? masks[masks.length - 1];
  const data = small.data.slice();
  for (let y = 0, i = 3; y < small.height; y++) {
    const row = Math.min(mask.height - 1, Math.floor((y * mask.height) / small.height)) * mask.width;
    for (let x = 0; x < small.width; x++, i += 4) {
      const alpha = mask.data[row + Math.min(mask.width - 1, Math.floor((x * mask.width) / small.width))];
      data[i] = mode === 'blend' && threshold > 0 ? alpha : alpha >= threshold ? 255 : 0;
    }
  }
  return makePicture(small.width, small.height, data);
}

/** Mean over all channels, both over grey. */
function differenceOf(a: Picture, b: Picture): number {
  if (a.width !== b.width || a.height !== b.height) return 255;
  let sum = 0;
  for (let i = 0; i < a.data.length; i += 4) {
    for (let k = i; k < i + 3; k++) {
      const there = ((a.data[k] - GREY) * a.data[i + 3]) / 255;
      sum += Math.abs(there - ((b.data[k] - GREY) * b.data[i + 3]) / 255);
    }
  }
  return sum / (0.75 * a.data.length);
}

/** Above 0 where green goes the way of the Bench, by all texels that are not flat. */
function reliefOf({ raster, up }: NonNullable<Shown['normals']>, bench: Raster<Samples>): number {
  const middle = (r: Raster<Samples>) => (r.data instanceof Uint8Array ? 128 : 32768);
  const [mid, own] = [middle(raster), middle(bench)];
  const [w, h] = [Math.min(raster.width, bench.width), Math.min(raster.height, bench.height)];
  let sum = 0;
  for (let y = 0; y < h; y++) {
    const [there, here] = [raster, bench].map(({ width, height }) => Math.floor((y * height) / h) * width);
    for (let x = 0; x < w; x++) {
      const [i, k] = [Math.floor((x * raster.width) / w), Math.floor((x * bench.width) / w)];
      const g = raster.data[(there + i) * raster.channels + 1] - mid;
      sum += (up * g * (bench.data[(here + k) * bench.channels + 1] - own)) / (mid * own);
    }
  }
  return sum;
}
