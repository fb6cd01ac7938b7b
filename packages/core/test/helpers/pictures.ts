import {
  makeMask,
  makePicture,
  NO_MAPS,
  STEP_KINDS,
  withChanges,
  type Applied,
  type Mask,
  type Picture,
  type RunState,
  type StepEnv,
  type StepKind,
  type StepKindName,
  type StepParams,
} from '../../src/testing.ts';

/** Draws a mask from text: `#` 255, `+` 128, anything else 0, so that a test shows its picture. */
export function drawMask(rows: string[]): Mask {
  const data = Uint8Array.from(rows.join(''), (glyph) => (glyph === '#' ? 255 : glyph === '+' ? 128 : 0));
  return makeMask(rows[0].length, rows.length, data);
}

export function showMask({ width, height, data }: Mask): string[] {
  return Array.from({ length: height }, (_, y) =>
    Array.from(data.subarray(y * width, (y + 1) * width), (v) => (v === 255 ? '#' : v >= 128 ? '+' : '.')).join(''),
  );
}

/** The same numbers for the same seed (mulberry32). */
export function random(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), state | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

export function noiseMask(seed: number, width: number, height: number): Mask {
  const next = random(seed);
  return makeMask(
    width,
    height,
    Uint8Array.from({ length: width * height }, () => Math.floor(256 * next())),
  );
}

export function noisePicture(seed: number, width: number, height: number): Picture {
  const next = random(seed);
  return makePicture(
    width,
    height,
    Uint8Array.from({ length: width * height * 4 }, () => Math.floor(256 * next())),
  );
}

/** A plain host of steps: heap memory, bands of two rows. */
export function env(sources: Record<string, Picture> = {}, scale = 1): StepEnv {
  return {
    scale,
    draft: false,
    version: 999,
    paintStrokes: () => {
      throw new Error('no strokes here');
    },
    checkpoint: () => undefined,
    placeOf: () => null,
    deepSource: () => null,
    texelMm: 1,
    maskAfter: () => {
      throw new Error('no run here');
    },
    allocate: (bytes) => new Uint8Array(bytes),
    source: (id) => sources[id],
    asData: (picture) => picture,
    bands(height, work) {
      for (let y = 0; y < height; y += 2) work(y, Math.min(height, y + 2));
    },
  };
}

export function stateOf(colour: Picture, mask?: Mask): RunState {
  return {
    colour,
    mask: mask ?? makeMask(colour.width, colour.height, new Uint8Array(colour.data.length / 4).fill(255)),
    maps: NO_MAPS,
  };
}

/** The state after one step, and what the step says of it. */
export function after<K extends StepKindName>(
  kind: K,
  state: RunState,
  params: Partial<StepParams[K]>,
  host = env(),
): RunState & Pick<Applied, 'found' | 'notice'> {
  const step: StepKind<StepParams[K]> = STEP_KINDS[kind];
  const applied = step.apply(state, { ...step.defaults, ...params }, host);
  return { ...withChanges(state, applied), found: applied.found, notice: applied.notice };
}
