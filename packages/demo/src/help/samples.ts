import {
  makeStep,
  type RunSource,
  type StepEntry,
  type StepKindName,
  type StepParams,
  type Stroke,
} from '@lithe-sieve/core';
import {
  blades,
  bladesOn,
  hairOn,
  leaf,
  leafDusty,
  leafEaten,
  leafLit,
  leafMask,
  leafUneven,
  relief,
} from './pictures.ts';

/** What shows a step at work: a demo picture, the steps before it, and its own settings. */
export interface Sample {
  sources: RunSource[];
  before: StepEntry[];
  step: StepEntry;
  strokes?: ReadonlyMap<string, Stroke>;
}

let made = 0;
function step<K extends StepKindName>(kind: K, params: Partial<StepParams[K]> = {}): StepEntry {
  return makeStep(`step-${++made}`, kind, params);
}

/** The truth of a drawn picture as its mask, from a second source. */
const taken = (): StepEntry => step('from-channel', { sourceId: 'mask', channel: 'luminance' });
const heights = (): StepEntry => step('height-from-picture', { split: 12, large: 0.4, detail: 1.4 });
const CARD: [number, number, number] = [244, 240, 230];

/** One of a kind of step. */
type Make<K extends StepKindName> = () => {
  sources: RunSource[];
  before?: StepEntry[];
  params: Partial<StepParams[K]>;
  strokes?: ReadonlyMap<string, Stroke>;
};

const SAMPLES: { readonly [K in StepKindName]: Make<K> } = {
  'from-channel': () => ({ sources: blades(), params: { sourceId: 'mask', channel: 'luminance' } }),
  'from-colour': () => ({ sources: leaf(), params: { drop: [CARD], tolerance: 0.16 } }),
  'from-touch': () => ({ sources: leaf(), params: { at: [[4, 4]], tolerance: 0.16 } }),
  'from-backdrop': () => ({ sources: leafUneven(), params: {} }),
  'from-two-backdrops': () => ({
    sources: [...hairOn([24, 26, 28]), ...hairOn([226, 224, 220], 'other')],
    params: { sourceId: 'other' },
  }),
  'from-strokes': () => ({
    sources: leafUneven(),
    params: {
      strokes: [
        {
          effect: 'keep',
          radius: 5,
          at: [
            [80, 40],
            [80, 80],
            [84, 110],
          ],
        },
        {
          effect: 'drop',
          radius: 5,
          at: [
            [8, 8],
            [152, 8],
            [152, 152],
            [8, 152],
          ],
        },
      ],
    },
  }),
  'from-piece': () => ({ sources: [...blades(), { ...leafMask()[0], id: 'other' }], params: { sourceId: 'other' } }),
  levels: () => ({
    sources: bladesOn([22, 24, 20]),
    before: [step('from-channel', { channel: 'luminance' })],
    params: { black: 0.12, white: 0.3 },
  }),
  invert: () => ({ sources: leaf(), before: [taken(), step('invert')], params: {} }),
  grow: () => ({ sources: leaf(), before: [taken()], params: { by: -4 } }),
  feather: () => ({ sources: leaf(), before: [taken()], params: { radius: 10, side: 'both' } }),
  'smooth-edge': () => ({
    sources: leaf(),
    before: [step('from-colour', { drop: [CARD], tolerance: 0.2, softness: 0 })],
    params: { radius: 12 },
  }),
  'harden-edge': () => ({ sources: leaf(), before: [taken(), step('feather', { radius: 6 })], params: { width: 1.5 } }),
  'drop-strays': () => ({
    sources: leafDusty(),
    before: [step('from-colour', { drop: [CARD], tolerance: 0.12 })],
    params: { below: 60, applied: true },
  }),
  'close-pinholes': () => ({
    sources: leafEaten(5),
    before: [step('from-colour', { drop: [CARD], tolerance: 0.16 })],
    params: { below: 140, applied: true },
  }),
  'clear-holes': () => ({
    sources: leafEaten(8),
    before: [step('from-colour', { drop: [CARD], tolerance: 0.16, reach: 'connected' })],
    params: {
      tolerance: 0.2,
      taken: [
        [80, 60],
        [70, 90],
        [92, 100],
      ],
    },
  }),
  'fine-fringe': () => ({
    sources: hairOn([88, 132, 84]),
    before: [taken(), step('harden-edge', { width: 0.5 })],
    params: { band: 5 },
  }),
  'cut-below': () => ({
    sources: [...leaf(), ...relief('other')],
    before: [taken()],
    params: { sourceId: 'other', at: 0.5 },
  }),
  strokes: () => ({
    sources: leaf(),
    before: [taken()],
    params: { strokes: ['cut'] },
    strokes: new Map([
      [
        'cut',
        { id: 'cut', kind: 'outline', effect: 'cut', path: [0, 90, 160, 60, 160, 160, 0, 160].map((v) => 64 * v) },
      ],
    ]),
  }),
  combine: () => {
    const first = taken();
    return {
      sources: [...leaf(), ...relief('other')],
      before: [first, step('from-channel', { sourceId: 'other', channel: 'luminance' })],
      params: { how: 'keep both', stepId: first.id },
    };
  },
  'opacity-factor': () => ({ sources: leaf(), before: [taken()], params: { factor: 0.5 } }),
  perforate: () => ({
    sources: leaf(),
    before: [taken(), step('opacity-factor', { factor: 0.5 })],
    params: { pattern: 'dots', size: 9 },
  }),
  'cut-by-piece': () => ({
    sources: [...leaf(), { ...blades('other', true)[0], id: 'other' }],
    before: [taken()],
    params: { sourceId: 'other', across: 160 },
  }),
  unmix: () => ({ sources: hairOn([60, 150, 70]), before: [taken()], params: { from: 'the backdrop' } }),
  bleed: () => ({ sources: leaf(), before: [taken()], params: {} }),
  ramp: () => ({
    sources: leaf(),
    before: [taken()],
    params: {
      stops: [
        { at: 0, colour: [70, 28, 16] },
        { at: 0.5, colour: [196, 96, 30] },
        { at: 1, colour: [246, 214, 120] },
      ],
    },
  }),
  swing: () => ({
    sources: blades(),
    before: [taken()],
    params: { tint: 60, lightness: 0.16, over: 'patches', size: 30 },
  }),
  'colour-levels': () => ({ sources: leaf(), before: [taken()], params: { black: 0.1, white: 0.6 } }),
  match: () => ({ sources: [...leaf(), ...blades('other')], before: [taken()], params: { sourceId: 'other' } }),
  'flatten-light': () => ({ sources: leafLit(), before: [taken()], params: { size: 16 } }),
  'other-colour': () => ({
    sources: leaf(),
    before: [taken()],
    params: { from: 'one colour', colour: [150, 170, 196] },
  }),
  'height-from-picture': () => ({ sources: leaf(), before: [taken()], params: { split: 12, large: 0.4, detail: 1.4 } }),
  'height-from-edge': () => ({ sources: leaf(), before: [taken()], params: { width: 40 } }),
  'height-from-veins': () => ({
    sources: leaf(),
    before: [taken(), step('height-from-edge', { width: 40, weight: 0.5 })],
    params: { width: 3, gain: 8 },
  }),
  'height-by-hand': () => ({
    sources: leaf(),
    before: [taken(), heights()],
    params: { strokes: ['rise'], by: 0.5, radius: 6 },
    strokes: new Map([
      [
        'rise',
        {
          id: 'rise',
          kind: 'outline',
          effect: 'restore',
          path: [60, 50, 104, 46, 100, 96, 62, 100].map((v) => 64 * v),
        },
      ],
    ]),
  }),
  'normal-from-height': () => ({ sources: leaf(), before: [taken(), heights()], params: { depth: 40 } }),
  'normal-from-picture': () => ({
    sources: [...leaf(), ...relief('other', true)],
    before: [taken()],
    params: { sourceId: 'other', blend: 'replace' },
  }),
  'normal-from-lights': () => ({
    sources: [...leaf(), ...[0, 120, 240].flatMap((a) => leafLit(a, `lit ${a}`))],
    before: [taken()],
    params: { lights: [0, 120, 240].map((azimuth) => ({ sourceId: `lit ${azimuth}`, azimuth, elevation: 45 })) },
  }),
  'flip-normals': () => ({
    sources: leaf(),
    before: [taken(), heights(), step('normal-from-height', { depth: 40 })],
    params: {},
  }),
  roughness: () => ({ sources: leaf(), before: [taken()], params: {} }),
  specular: () => ({ sources: leaf(), before: [taken()], params: { from: 'channel' } }),
  metalness: () => ({ sources: leaf(), before: [taken()], params: { from: 'channel' } }),
  occlusion: () => ({ sources: leaf(), before: [taken(), heights()], params: { depth: 40 } }),
  translucency: () => ({ sources: leaf(), before: [taken()], params: {} }),
  thickness: () => ({ sources: leaf(), before: [taken()], params: {} }),
  dirt: () => ({ sources: leaf(), before: [taken(), heights()], params: { depth: 40 } }),
  'tint-id': () => ({
    sources: leafDusty(),
    before: [step('from-colour', { drop: [CARD], tolerance: 0.12 })],
    params: {},
  }),
  'back-colour': () => ({ sources: leaf(), before: [taken()], params: {} }),
  'through-colour': () => ({
    sources: leaf(),
    before: [taken()],
    params: { from: 'one colour', colour: [236, 120, 40] },
  }),
  emission: () => ({ sources: leaf(), before: [taken()], params: {} }),
  'ramp-by-height': () => ({ sources: leaf(), before: [taken(), step('height-from-edge', { width: 40 })], params: {} }),
  'bleed-maps': () => ({ sources: leaf(), before: [taken(), step('roughness')], params: {} }),
  trim: () => ({ sources: leaf(), before: [taken()], params: { margin: 4 } }),
  'turn-to-fit': () => ({ sources: leaf(), before: [taken(), step('place', { angle: 30 })], params: { margin: 4 } }),
  place: () => ({ sources: leaf(), before: [taken()], params: { angle: 30, size: 0.8 } }),
  resize: () => ({ sources: leaf(), before: [taken()], params: { factor: 0.25, filter: 'box' } }),
  pad: () => ({ sources: leaf(), before: [taken()], params: { left: 40, right: 40, top: 20, bottom: 20 } }),
  'make-tileable': () => ({ sources: blades(), before: [taken()], params: { overlap: 48 } }),
};

/** The sample of a kind of step. */
export function sampleOf(kind: StepKindName): Sample {
  const { before = [], params, ...rest } = SAMPLES[kind]();
  return { before, step: step(kind, params as never), ...rest };
}
