import type { Rgb } from '../colour/srgb.ts';
import { makeStep, type StepEntry } from '../piece/piece-doc.ts';
import { otsuThreshold } from '../sieve/otsu.ts';
import type { Channel } from '../steps/from-channel.ts';
import { clustersOf, type Cluster } from './clusters.ts';
import type { SmallPicture } from './small-picture.ts';

/** What ways to the same thing are called. */
export const FAMILIES = {
  backdrop: 'Backdrop',
  border: 'Border colours',
  'border, connected': 'Border, connected',
  parts: 'Middle, not border',
  'one colour': 'One colour',
  'some colours': 'Middle colours',
  green: 'Green',
  light: 'Light',
  'not light': 'Dark',
  colourful: 'Colourful',
  'not colourful': 'Grey',
  agreed: 'Surest colours',
  seeds: 'Scribbles',
  'touch, keep it': 'Touched, kept',
  'touch, drop it': 'Touched, dropped',
} as const;
export type Family = keyof typeof FAMILIES;

/** A way to a mask that may suit a picture. */
export interface Candidate {
  /** Those of one family are ways to the same thing: the best of them speaks for it. */
  family: Family;
  steps: StepEntry[];
  /** Why it may be the one, a line. */
  reason: string;
}

type MakeId = () => string;

/** How uneven a backdrop may be. */
const TOLERANCES = [0.07, 0.13, 0.22];
const CLUSTERS = 6;
/** From this share of the border on, a colour is one of what lies behind. */
const BEHIND = 0.1;
const SOFTNESS = 0.06;

/** What the border, the colours and the lightness of a picture suggest. */
export function candidatesOf(small: SmallPicture, makeId: MakeId): Candidate[] {
  const clusters = clustersOf(small, CLUSTERS);
  return [
    ...fromBackdrop(makeId),
    ...fromBorder(clusters, makeId),
    ...byParts(clusters, makeId),
    ...fromMeasures(small, makeId),
  ];
}

function fromBackdrop(makeId: MakeId): Candidate[] {
  return TOLERANCES.map((tolerance) => ({
    family: 'backdrop',
    steps: [makeStep(makeId(), 'from-backdrop', { tolerance })],
    reason: 'The border is one backdrop, lit unevenly: what differs from it is kept, its shadow is not.',
  }));
}

function fromBorder(clusters: readonly Cluster[], makeId: MakeId): Candidate[] {
  const behind = clusters.filter((c) => c.onFrame >= BEHIND && c.onFrame >= 0.7 * c.inMiddle);
  if (behind.length === 0) return [];
  const drop = behind.map((c) => c.colour);
  const reach = Math.max(...behind.map((c) => c.reach));
  const words = drop.length === 1 ? 'The colour of the border is dropped' : `The ${drop.length} colours of the border are dropped`; // prettier-ignore
  return [0.6, 0.9, 1.3, 1.9].flatMap((wide) => {
    const tolerance = round(Math.min(0.4, Math.max(0.03, wide * reach + SOFTNESS / 2)));
    const params = { drop, tolerance, softness: SOFTNESS };
    return (['all over', 'connected'] as const).map((way) => ({
      family: way === 'connected' ? 'border, connected' : 'border',
      steps: [makeStep(makeId(), 'from-colour', { ...params, reach: way })],
      reason: way === 'connected' ? `${words} as far as it reaches in from the border.` : `${words} wherever it is.`,
    }));
  });
}

/** What lies more in the middle than at the border, against what does not; and each colour of the middle by itself. */
function byParts(clusters: readonly Cluster[], makeId: MakeId): Candidate[] {
  const leans = (c: Cluster) => c.inMiddle / (c.inMiddle + c.onFrame + 1e-6);
  const inner = clusters.filter((c) => leans(c) > 0.5);
  const outer = clusters.filter((c) => leans(c) <= 0.5);
  const out: Candidate[] = [];
  if (inner.length > 0 && outer.length > 0) out.push(split(inner, outer, makeId, 'parts', 'The colours of the middle are kept, those of the border dropped.')); // prettier-ignore
  const ranked = clusters.toSorted((a, b) => leans(b) - leans(a));
  for (const count of [1, 2, 3]) {
    if (count >= clusters.length || count === inner.length) continue;
    const [keep, drop] = [ranked.slice(0, count), ranked.slice(count)];
    out.push(split(keep, drop, makeId, count === 1 ? 'one colour' : 'some colours', count === 1 ? 'One colour fills the middle: all that is like it is kept.' : 'The colours that are most of the middle are kept.')); // prettier-ignore
  }
  // green against all else, or the most colourful
  const byHue = clusters.toSorted((a, b) => greenness(b) - greenness(a));
  const green = byHue.filter((c) => greenness(c) > 0.03);
  if (green.length > 0 && green.length < clusters.length) out.push(split(green, byHue.slice(green.length), makeId, 'green', 'What is green is kept.')); // prettier-ignore
  return out;
}

const greenness = ({ centre: [, a, b] }: Cluster) => Math.min(b, 1) - 1.2 * a - 0.02;

/** Every texel goes to the nearer of two groups of colours. */
function split(
  keep: readonly Cluster[],
  drop: readonly Cluster[],
  makeId: MakeId,
  family: Family,
  reason: string,
): Candidate {
  const colours = (of: readonly Cluster[]): Rgb[] => of.map((c) => c.colour);
  // beyond any distance: what is nearer to a colour that is kept stays, the rest goes
  const params = { keep: colours(keep), drop: colours(drop), tolerance: 0.6, softness: SOFTNESS };
  return { family, steps: [makeStep(makeId(), 'from-colour', params)], reason };
}

const MEASURES: readonly [Channel, words: 'light' | 'colourful'][] = [
  ['luminance', 'light'],
  ['saturation', 'colourful'],
];
const RAMP = 0.06;

/** Light or dark, colourful or grey: where a measure parts the texels into two heaps. */
function fromMeasures({ picture: { data } }: SmallPicture, makeId: MakeId): Candidate[] {
  return MEASURES.flatMap(([channel, words]) => {
    const counts = new Uint32Array(256);
    for (let i = 0; i < data.length; i += 4) counts[measure(channel, data, i)]++;
    const threshold = otsuThreshold(counts);
    if (threshold === null) return [];
    const ways = [-0.09, 0, 0.09].flatMap((by) =>
      [false, true].map((inverted) => ({ at: threshold / 255 + by, inverted })),
    );
    return ways.map(({ at, inverted }) => ({
      family: inverted ? (`not ${words}` as const) : words,
      steps: [
        makeStep(makeId(), 'from-channel', { channel }),
        makeStep(makeId(), 'levels', { black: round(Math.max(0, at - RAMP)), white: round(Math.min(1, at + RAMP)) }),
        ...(inverted ? [makeStep(makeId(), 'invert')] : []),
      ],
      reason: inverted ? `What is ${channel === 'luminance' ? 'dark' : 'grey'} is kept.` : `What is ${words} is kept.`,
    }));
  });
}

function measure(channel: Channel, data: Uint8Array, i: number): number {
  const [r, g, b] = [data[i], data[i + 1], data[i + 2]];
  if (channel === 'luminance') return Math.min(255, Math.floor(0.2126 * r + 0.7152 * g + 0.0722 * b + 0.5));
  const high = Math.max(r, g, b);
  return high === 0 ? 0 : Math.floor((255 * (high - Math.min(r, g, b))) / high + 0.5);
}

const round = (v: number) => Math.round(1000 * v) / 1000;

/** Colours of either side, where most candidates agree. */
const AGREED = 5;

/** The colours of what most candidates keep against those of what they drop. @param sure - As of {@link fromSeeds}. */
export function fromAgreed(small: SmallPicture, sure: Float32Array, makeId: MakeId): Candidate[] {
  const keep = clustersOf(small, AGREED, (i) => sure[i] > 0.7);
  const drop = clustersOf(small, AGREED, (i) => sure[i] < 0.3);
  if (keep.length === 0 || drop.length === 0) return [];
  return [split(keep, drop, makeId, 'agreed', 'The colours where it is surest are kept, those of all else dropped.')];
}
