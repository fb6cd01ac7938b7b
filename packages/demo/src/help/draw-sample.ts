import {
  evaluateRun,
  stepKind,
  toRgba8,
  type Mask,
  type Picture,
  type RunState,
  type StepKindName,
} from '@lithe-sieve/core';
import { SAMPLE_SIDE } from './pictures.ts';
import { sampleOf } from './samples.ts';

/** Millimetres that a sample is wide. */
const CARD_MM = 160;
/** What is dropped shows as this check. */
const [CHECK, PALE, DARK] = [10, 168, 148];
const GAP = 8;

/** A step at work on a demo picture: before it and after it, side by side. RGB, opaque. @throws Error where the step did nothing. */
export function drawStepSample(kind: StepKindName): Picture {
  const { sources, before, step, strokes } = sampleOf(kind);
  const host = { sources, cardWidth: CARD_MM / 1000, keepStates: true, ...(strokes && { strokes }) };
  const { steps, ...end } = evaluateRun([...before, step], host);
  const failed = steps.find((s) => s.error);
  if (failed) throw new Error(`${kind}: ${failed.error?.message}`);
  const first = sources[0].picture;
  const start = steps.at(-2)?.state ?? { colour: first, mask: opaque(first), maps: new Map() };
  const { makes } = stepKind(kind);
  const look = (state: RunState) => {
    // what these change lies under the mask
    if (kind === 'bleed') return state.colour;
    const map = state.maps.get(kind === 'bleed-maps' ? 'roughness' : (makes ?? 'mask'));
    if (kind === 'bleed-maps' && map) return toRgba8(map);
    return cut(map ? toRgba8(map) : state.colour, state.mask);
  };
  return sideBySide(look(start), look(steps.at(-1)?.state ?? end));
}

function opaque({ width, height }: Picture): Mask {
  return { width, height, channels: 1, data: new Uint8Array(width * height).fill(255) };
}

function cut({ width, height, data }: Picture, mask: Mask): Picture {
  const out = new Uint8Array(data.length);
  for (let i = 0, o = 0; o < out.length; i++, o += 4) {
    const [x, y] = [i % width, Math.floor(i / width)];
    const check = (Math.floor(x / CHECK) + Math.floor(y / CHECK)) % 2 ? PALE : DARK;
    for (let c = 0; c < 3; c++) out[o + c] = Math.round(check + (mask.data[i] / 255) * (data[o + c] - check));
    out[o + 3] = 255;
  }
  return { width, height, channels: 4, data: out };
}

/** Each in a square of {@link SAMPLE_SIDE}: in its middle at its own size where it fits, else as few texels as do. */
function sideBySide(left: Picture, right: Picture): Picture {
  const width = 2 * SAMPLE_SIDE + GAP;
  const data = new Uint8Array(4 * width * SAMPLE_SIDE).fill(255);
  for (const [k, picture] of [left, right].entries()) {
    const every = Math.max(1, Math.ceil(Math.max(picture.width, picture.height) / SAMPLE_SIDE));
    const [w, h] = [Math.floor(picture.width / every), Math.floor(picture.height / every)];
    const [x0, y0] = [k * (SAMPLE_SIDE + GAP) + ((SAMPLE_SIDE - w) >> 1), (SAMPLE_SIDE - h) >> 1];
    for (let y = 0; y < h; y++) {
      for (let x = 0; x < w; x++) {
        const from = 4 * (every * y * picture.width + every * x);
        data.set(picture.data.subarray(from, from + 4), 4 * ((y0 + y) * width + x0 + x));
      }
    }
  }
  return { width, height: SAMPLE_SIDE, channels: 4, data };
}
